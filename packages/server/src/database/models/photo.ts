import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, key, now, number, Row, tableOptions, text, time, uuid, whole } from './columns';

/** A photo of a radio, a place or a visit. */
export class PhotoRow extends Row<PhotoRow> {
  declare id: string;
  declare jobId: string;
  declare radioId: string | null;
  declare placeId: string | null;
  declare visitId: string | null;
  declare crewMemberId: string | null;
  declare addedAt: CreationOptional<Date>;
  declare takenAt: Date | null;
  declare caption: string;
  declare widthPx: number;
  declare heightPx: number;
  declare latitudeDeg: number | null;
  declare longitudeDeg: number | null;
  declare fullJpeg: Buffer;
  declare smallJpeg: Buffer;
  declare version: CreationOptional<number>;
}

export function initPhoto(sequelize: Sequelize): void {
  const picture = { type: DataTypes.BLOB, allowNull: true };
  PhotoRow.init(
    attributes({
      id: key(uuid),
      jobId: uuid,
      radioId: uuid,
      placeId: uuid,
      visitId: uuid,
      crewMemberId: uuid,
      addedAt: now,
      takenAt: time,
      caption: text,
      widthPx: whole,
      heightPx: whole,
      latitudeDeg: number,
      longitudeDeg: number,
      fullJpeg: picture,
      smallJpeg: picture,
    }),
    // Lists are read without the pictures.
    {
      ...tableOptions<PhotoRow>(sequelize, 'PhotoRow', 'photo', 'locked'),
      defaultScope: { attributes: { exclude: ['fullJpeg', 'smallJpeg'] } },
    },
  );
}
