import type { DeviceKind } from '@kivram/contract/entities/network';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, Row, tableOptions, text, uuid } from './columns';

export class KnownDeviceRow extends Row<KnownDeviceRow> {
  declare id: CreationOptional<string>;
  declare networkId: string;
  declare name: string;
  declare kind: DeviceKind;
  declare address: string;
  declare mac: CreationOptional<string | null>;
}

export function initKnownDevice(sequelize: Sequelize): void {
  KnownDeviceRow.init(
    attributes({ id, networkId: uuid, name: text, kind: text, address: text, mac: text }),
    tableOptions(sequelize, 'KnownDeviceRow', 'known_device'),
  );
}
