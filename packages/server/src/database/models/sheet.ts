import type { Band } from '@kivram/core/gear/model';
import type { Role, Security } from '@kivram/core/pairing/sheet';
import type { Protocol } from '@kivram/core/radio/kinds';
import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { vault } from '../../secrets/vault';
import { attributes, flag, key, number, Row, tableOptions, text, time, uuid, whole } from './columns';

export class SheetRow extends Row<SheetRow> {
  declare radioId: string;
  declare revision: number;
  declare savedAt: CreationOptional<Date>;
  declare crewMemberId: string | null;
  declare role: Role;
  declare networkName: string;
  declare security: Security;
  declare passphrase: string | null;
  declare band: Band;
  declare centreMHz: number;
  declare scanMHz: number[];
  declare widthMHz: number;
  declare followsWidth: boolean;
  declare protocol: Protocol;
  declare ptpOnly: boolean;
  declare bridge: boolean;
  declare conductedDbm: number;
  declare country: string;
  declare address: string;
  declare prefix: number;
  declare gateway: string | null;
  declare deviceName: string;
  declare firmware: string;
  declare neighbours: CreationOptional<string[]>;
  declare errorCorrection: CreationOptional<boolean>;
  declare txMHz: number | null;
  declare rxMHz: number | null;
}

export function initSheet(sequelize: Sequelize): void {
  SheetRow.init(
    attributes({
      radioId: key(uuid),
      revision: key(whole),
      savedAt: { ...time, defaultValue: DataTypes.NOW },
      crewMemberId: uuid,
      role: text,
      networkName: text,
      security: text,
      // Sealed wherever it is written, opened wherever it is read: the database never has it in the clear.
      passphrase: {
        ...text,
        get(this: SheetRow): string | null {
          const stored = this.getDataValue('passphrase');
          return stored && vault().read(stored);
        },
        set(this: SheetRow, passphrase: string | null) {
          this.setDataValue('passphrase', passphrase && vault().seal(passphrase));
        },
      },
      band: text,
      centreMHz: { ...number, field: 'centre_mhz' },
      scanMHz: { type: DataTypes.ARRAY(DataTypes.DOUBLE), field: 'scan_mhz' },
      widthMHz: { ...number, field: 'width_mhz' },
      followsWidth: flag,
      protocol: text,
      ptpOnly: flag,
      bridge: flag,
      conductedDbm: number,
      country: text,
      address: text,
      prefix: whole,
      gateway: text,
      deviceName: text,
      firmware: text,
      neighbours: { type: DataTypes.ARRAY(DataTypes.TEXT), defaultValue: [] },
      errorCorrection: { ...flag, defaultValue: false },
      txMHz: { ...number, field: 'tx_mhz' },
      rxMHz: { ...number, field: 'rx_mhz' },
    }),
    tableOptions(sequelize, 'SheetRow', 'sheet'),
  );
}
