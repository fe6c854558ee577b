import type { PlaceKind } from '@kivram/contract/entities/place';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, number, Row, tableOptions, text, uuid, version } from './columns';

export class PlaceRow extends Row<PlaceRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare name: string;
  declare latitudeDeg: number;
  declare longitudeDeg: number;
  declare groundHeightM: number;
  declare kind: CreationOptional<PlaceKind>;
  declare note: CreationOptional<string>;
  declare version: CreationOptional<number>;
}

export function initPlace(sequelize: Sequelize): void {
  PlaceRow.init(
    attributes({
      id,
      jobId: uuid,
      name: text,
      latitudeDeg: number,
      longitudeDeg: number,
      groundHeightM: number,
      kind: { ...text, defaultValue: 'site' },
      note: { ...text, defaultValue: '' },
      version,
    }),
    tableOptions(sequelize, 'PlaceRow', 'place', 'locked'),
  );
}
