import type { JobRole } from '@kivram/contract/entities/crewMember';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, Row, tableOptions, text, time, uuid } from './columns';

/** Somebody's place in a job. */
export class CrewMemberRow extends Row<CrewMemberRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare name: string;
  declare role: JobRole;
  /** who signs in as this one; null while nobody does */
  declare personId: CreationOptional<string | null>;
  declare leftAt: CreationOptional<Date | null>;
}

export function initCrewMember(sequelize: Sequelize): void {
  CrewMemberRow.init(
    attributes({ id, jobId: uuid, name: text, role: text, personId: uuid, leftAt: time }),
    tableOptions(sequelize, 'CrewMemberRow', 'crew_member'),
  );
}
