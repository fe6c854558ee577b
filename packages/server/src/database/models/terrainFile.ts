import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, flag, id, number, Row, tableOptions, text, time, whole } from './columns';

/** A terrain grid that went through an importer; its heights lie in tiles. */
export class TerrainFileRow extends Row<TerrainFileRow> {
  declare id: CreationOptional<string>;
  declare name: string;
  declare format: string;
  declare epsg: number;
  declare columns: number;
  declare rows: number;
  declare westX: number;
  declare northY: number;
  declare cellX: number;
  declare cellY: number;
  declare cellM: number;
  declare wholeMetres: boolean;
  declare leastM: number;
  declare mostM: number;
  declare voidShare: number;
  declare bytes: number;
  declare sha256: string;
  declare importedAt: CreationOptional<Date>;
}

export function initTerrainFile(sequelize: Sequelize): void {
  TerrainFileRow.init(
    attributes({
      id,
      name: text,
      format: text,
      epsg: whole,
      columns: whole,
      rows: whole,
      westX: number,
      northY: number,
      cellX: number,
      cellY: number,
      cellM: number,
      wholeMetres: flag,
      leastM: number,
      mostM: number,
      voidShare: number,
      bytes: { type: DataTypes.BIGINT },
      sha256: { ...text, field: 'sha256' },
      importedAt: { ...time, defaultValue: DataTypes.NOW },
    }),
    tableOptions(sequelize, 'TerrainFileRow', 'terrain_file'),
  );
}
