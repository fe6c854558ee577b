import { DataTypes, type Sequelize } from 'sequelize';
import { attributes, key, number, Row, tableOptions, time, uuid } from './columns';

/** What one radio heard of another at one moment; while aiming, for an alignment. */
export class ReadingRow extends Row<ReadingRow> {
  declare radioId: string;
  declare peerId: string;
  declare at: Date;
  declare alignmentId: string | null;
  declare tS: number;
  declare rslDbm: number | null;
  declare chainsDbm: number[];
  declare phoneAzimuthDeg: number | null;
  declare phoneTiltDeg: number | null;
}

export function initReading(sequelize: Sequelize): void {
  ReadingRow.init(
    attributes({
      radioId: key(uuid),
      peerId: key(uuid),
      at: key(time),
      alignmentId: uuid,
      tS: { ...number, field: 't_s' },
      rslDbm: number,
      chainsDbm: { type: DataTypes.ARRAY(DataTypes.REAL) },
      phoneAzimuthDeg: number,
      phoneTiltDeg: number,
    }),
    tableOptions(sequelize, 'ReadingRow', 'reading'),
  );
}
