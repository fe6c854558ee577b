import { DataTypes, type Sequelize } from 'sequelize';
import { attributes, key, Row, tableOptions, uuid, whole } from './columns';

export class TerrainTileRow extends Row<TerrainTileRow> {
  declare fileId: string;
  declare number: number;
  declare cells: Buffer;
}

export function initTerrainTile(sequelize: Sequelize): void {
  TerrainTileRow.init(
    attributes({ fileId: key(uuid), number: key(whole), cells: { type: DataTypes.BLOB } }),
    tableOptions(sequelize, 'TerrainTileRow', 'terrain_tile'),
  );
}
