import type { PlanChoices } from '@kivram/contract/entities/alternative';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, json, now, Row, tableOptions, text, uuid, version } from './columns';

/** A plan of a link that was tried and kept beside the one in place. */
export class AlternativeRow extends Row<AlternativeRow> {
  declare id: CreationOptional<string>;
  declare linkId: string;
  declare name: string;
  declare madeAt: CreationOptional<Date>;
  declare crewMemberId: CreationOptional<string | null>;
  declare choices: PlanChoices;
  declare version: CreationOptional<number>;
}

export function initAlternative(sequelize: Sequelize): void {
  AlternativeRow.init(
    attributes({ id, linkId: uuid, name: text, madeAt: now, crewMemberId: uuid, choices: json, version }),
    tableOptions(sequelize, 'AlternativeRow', 'alternative', 'locked'),
  );
}
