import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, Row, tableOptions, text, uuid } from './columns';

export class KnownDeviceRow extends Row<KnownDeviceRow> {
  declare id: CreationOptional<string>;
  declare networkId: string;
  declare name: string;
  declare address: string;
}

export function initKnownDevice(sequelize: Sequelize): void {
  KnownDeviceRow.init(
    attributes({ id, networkId: uuid, name: text, address: text }),
    tableOptions(sequelize, 'KnownDeviceRow', 'known_device'),
  );
}
