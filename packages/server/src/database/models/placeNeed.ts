import type { NeedItem } from '@kivram/core/need/activity';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, json, key, number, Row, tableOptions, text, uuid, version } from './columns';

/** What people and things at a place do over its links. */
export class PlaceNeedRow extends Row<PlaceNeedRow> {
  declare placeId: string;
  declare items: NeedItem[];
  declare simultaneity: number;
  declare growthPercent: number;
  declare headroomPercent: number;
  declare adapterName: string;
  declare adapterMbps: CreationOptional<number | null>;
  declare version: CreationOptional<number>;
}

export function initPlaceNeed(sequelize: Sequelize): void {
  PlaceNeedRow.init(
    attributes({
      placeId: key(uuid),
      items: json,
      simultaneity: number,
      growthPercent: number,
      headroomPercent: number,
      adapterName: text,
      adapterMbps: number,
      version,
    }),
    tableOptions(sequelize, 'PlaceNeedRow', 'place_need', 'locked'),
  );
}
