import type { LinkState } from '@kivram/contract/views/state';
import type { Direction } from '@kivram/core/verdict/throughputVerdict';
import { type Sequelize } from 'sequelize';
import { attributes, json, key, Row, tableOptions, text, uuid } from './columns';

/** What was computed of a link, kept for as long as nothing it was computed from changes. */
export interface LinkMemo {
  state: LinkState;
  distanceM: number | null;
  /** TCP payload alone, Mbit/s */
  aloneMbps: Record<Direction, number>;
  /** the other airs whose sending falls into its channel, as far as it hears them */
  heard: string[];
}

export class LinkMemoRow extends Row<LinkMemoRow> {
  declare linkId: string;
  /** stands for everything that the memo was computed from */
  declare key: string;
  declare memo: LinkMemo;
}

export function initLinkMemo(sequelize: Sequelize): void {
  LinkMemoRow.init(
    attributes({ linkId: key(uuid), key: text, memo: json }),
    tableOptions(sequelize, 'LinkMemoRow', 'link_memo'),
  );
}
