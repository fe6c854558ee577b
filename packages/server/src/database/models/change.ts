import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, json, key, now, Row, tableOptions, text, uuid } from './columns';

/** A change that was made, under the id that its client gave it: asked for again, it answers what it answered. */
export class ChangeRow extends Row<ChangeRow> {
  declare id: string;
  declare jobId: string | null;
  declare crewMemberId: string | null;
  declare at: CreationOptional<Date>;
  declare result: unknown;
  /** what was asked for and by whom; null for what was made before that was kept */
  declare madeBy: string | null;
}

export function initChange(sequelize: Sequelize): void {
  ChangeRow.init(
    attributes({ id: key(uuid), jobId: uuid, crewMemberId: uuid, at: now, result: json, madeBy: text }),
    tableOptions(sequelize, 'ChangeRow', 'change'),
  );
}
