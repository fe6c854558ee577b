import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, number, Row, tableOptions, text, uuid, version } from './columns';

/** A licence for a pair of frequencies. */
export class LicenceRow extends Row<LicenceRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare number: string;
  declare holder: string;
  declare centreMHz: number;
  declare returnMHz: number;
  declare widthMHz: number;
  declare occupiedMHz: CreationOptional<number | null>;
  declare mostEirpDbm: number;
  declare modulation: CreationOptional<string | null>;
  /** dates, as in 2026-01-31 */
  declare validFrom: CreationOptional<string | null>;
  declare validUntil: string;
  declare lowPlaceId: CreationOptional<string | null>;
  declare highPlaceId: CreationOptional<string | null>;
  declare terms: string;
  declare version: CreationOptional<number>;
}

export function initLicence(sequelize: Sequelize): void {
  LicenceRow.init(
    attributes({
      id,
      jobId: uuid,
      number: text,
      holder: text,
      centreMHz: { ...number, field: 'centre_mhz' },
      returnMHz: { ...number, field: 'return_mhz' },
      widthMHz: { ...number, field: 'width_mhz' },
      occupiedMHz: { ...number, field: 'occupied_mhz' },
      mostEirpDbm: number,
      modulation: text,
      validFrom: { type: DataTypes.DATEONLY, allowNull: true },
      validUntil: { type: DataTypes.DATEONLY, allowNull: true },
      lowPlaceId: uuid,
      highPlaceId: uuid,
      terms: text,
      version,
    }),
    tableOptions(sequelize, 'LicenceRow', 'licence', 'locked'),
  );
}
