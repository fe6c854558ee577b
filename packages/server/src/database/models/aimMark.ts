import type { AimMark } from '@kivram/core/aiming/aimGuide';
import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, number, Row, tableOptions, text, uuid, whole } from './columns';

/** Something an installer did at a radio while aiming it at its peer. */
export class AimMarkRow extends Row<AimMarkRow> {
  declare id: CreationOptional<string>;
  declare alignmentId: string;
  declare radioId: string;
  declare peerId: string;
  /** counts up in the order in which marks came in */
  declare number: CreationOptional<string>;
  declare tS: number;
  declare kind: AimMark['kind'];
  declare direction: number | null;
}

export function initAimMark(sequelize: Sequelize): void {
  AimMarkRow.init(
    attributes({
      id,
      alignmentId: uuid,
      radioId: uuid,
      peerId: uuid,
      number: { type: DataTypes.BIGINT, autoIncrement: true },
      tS: { ...number, field: 't_s' },
      kind: text,
      direction: whole,
    }),
    tableOptions(sequelize, 'AimMarkRow', 'aim_mark'),
  );
}
