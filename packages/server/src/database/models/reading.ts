import type { ToldBeside } from '@kivram/core/aiming/reading';
import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, flag, json, key, number, Row, tableOptions, time, uuid } from './columns';

/** What one radio heard of another at one moment; while aiming, for an alignment. */
export class ReadingRow extends Row<ReadingRow> {
  declare radioId: string;
  declare peerId: string;
  declare at: Date;
  declare alignmentId: string | null;
  declare tS: number;
  declare rslDbm: number | null;
  declare chainsDbm: number[];
  /** the radio has told nothing new since the reading before */
  declare isRepeat: CreationOptional<boolean>;
  /** seconds from when the radio measured the level to `at` */
  declare ageS: CreationOptional<number>;
  /** what else the radio told with it */
  declare told: CreationOptional<ToldBeside | null>;
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
      isRepeat: flag,
      ageS: number,
      told: json,
      phoneAzimuthDeg: number,
      phoneTiltDeg: number,
    }),
    tableOptions(sequelize, 'ReadingRow', 'reading'),
  );
}
