import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, number, Row, tableOptions, text, uuid, version, whole } from './columns';

export class NetworkRow extends Row<NetworkRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare subnetAddress: string;
  declare prefix: number;
  declare gateway: string | null;
  declare dhcpFirst: string | null;
  declare dhcpLast: string | null;
  declare feedMbps: number | null;
  declare feedPlaceId: CreationOptional<string | null>;
  declare version: CreationOptional<number>;
}

export function initNetwork(sequelize: Sequelize): void {
  NetworkRow.init(
    attributes({
      id,
      jobId: uuid,
      subnetAddress: text,
      prefix: whole,
      gateway: text,
      dhcpFirst: text,
      dhcpLast: text,
      feedMbps: number,
      feedPlaceId: uuid,
      version,
    }),
    tableOptions(sequelize, 'NetworkRow', 'network', 'locked'),
  );
}
