import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, key, Row, tableOptions, text, uuid, whole } from './columns';

/** A part of a site's network; the first by position is where radios get their addresses. */
export class SubnetRow extends Row<SubnetRow> {
  declare id: CreationOptional<string>;
  declare networkId: string;
  declare position: number;
  declare name: string;
  declare address: string;
  declare prefix: number;
  declare gateway: string | null;
}

/** Addresses that a subnet's router hands out. */
export class DhcpRangeRow extends Row<DhcpRangeRow> {
  declare subnetId: string;
  /** the subnet as a block, which both ends lie in */
  declare net: string;
  declare first: string;
  declare last: string;
}

export function initSubnet(sequelize: Sequelize): void {
  SubnetRow.init(
    attributes({ id, networkId: uuid, position: whole, name: text, address: text, prefix: whole, gateway: text }),
    tableOptions(sequelize, 'SubnetRow', 'subnet'),
  );
  DhcpRangeRow.init(
    attributes({ subnetId: key(uuid), net: text, first: key(text), last: text }),
    tableOptions(sequelize, 'DhcpRangeRow', 'dhcp_range'),
  );
}
