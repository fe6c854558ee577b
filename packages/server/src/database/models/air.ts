import type { AirKind } from '@kivram/core/air/air';
import type { Protocol } from '@kivram/core/radio/kinds';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, flag, id, number, Row, tableOptions, text, uuid, version } from './columns';

/** The spectrum that a set of radios shares. */
export class AirRow extends Row<AirRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare kind: AirKind;
  declare centreMHz: number;
  declare returnMHz: CreationOptional<number | null>;
  declare widthMHz: number;
  declare protocol: Protocol;
  declare errorCorrection: CreationOptional<boolean>;
  declare licenceId: CreationOptional<string | null>;
  declare version: CreationOptional<number>;
}

export function initAir(sequelize: Sequelize): void {
  AirRow.init(
    attributes({
      id,
      jobId: uuid,
      kind: text,
      centreMHz: { ...number, field: 'centre_mhz' },
      returnMHz: { ...number, field: 'return_mhz' },
      widthMHz: { ...number, field: 'width_mhz' },
      protocol: text,
      errorCorrection: { ...flag, defaultValue: false },
      licenceId: uuid,
      version,
    }),
    tableOptions(sequelize, 'AirRow', 'air', 'locked'),
  );
}
