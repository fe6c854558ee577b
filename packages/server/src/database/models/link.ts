import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, number, Row, tableOptions, text, uuid, version } from './columns';

export class LinkRow extends Row<LinkRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare airId: string;
  declare name: string;
  declare nearRadioId: string;
  declare farRadioId: string;
  declare pathKind: CreationOptional<'outdoor' | 'shaft'>;
  declare needNearToFarMbps: number;
  declare needFarToNearMbps: number;
  declare wantedMarginDb: CreationOptional<number>;
  declare shaftLeastM: CreationOptional<number | null>;
  declare shaftMostM: CreationOptional<number | null>;
  declare version: CreationOptional<number>;
}

export function initLink(sequelize: Sequelize): void {
  LinkRow.init(
    attributes({
      id,
      jobId: uuid,
      airId: uuid,
      name: text,
      nearRadioId: uuid,
      farRadioId: uuid,
      pathKind: { ...text, defaultValue: 'outdoor' },
      needNearToFarMbps: number,
      needFarToNearMbps: number,
      wantedMarginDb: { ...number, defaultValue: 10 },
      shaftLeastM: number,
      shaftMostM: number,
      version,
    }),
    tableOptions(sequelize, 'LinkRow', 'link', 'locked'),
  );
}
