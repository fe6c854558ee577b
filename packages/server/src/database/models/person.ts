import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, Row, tableOptions, text } from './columns';

/** Who signs in over the network. */
export class PersonRow extends Row<PersonRow> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare passwordHash: CreationOptional<string | null>;
}

export function initPerson(sequelize: Sequelize): void {
  PersonRow.init(attributes({ id, name: text, passwordHash: text }), tableOptions(sequelize, 'PersonRow', 'person'));
}
