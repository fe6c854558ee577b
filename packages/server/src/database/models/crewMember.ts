import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, Row, tableOptions, text, uuid } from './columns';

export class CrewMemberRow extends Row<CrewMemberRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare name: string;
}

export function initCrewMember(sequelize: Sequelize): void {
  CrewMemberRow.init(
    attributes({ id, jobId: uuid, name: text }),
    tableOptions(sequelize, 'CrewMemberRow', 'crew_member'),
  );
}
