import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, json, key, Row, tableOptions, uuid } from './columns';

/** What the stand-in world of a link was made with, and where its mounts stand. */
export class StandinWorldRow extends Row<StandinWorldRow> {
  declare linkId: string;
  declare setup: Record<string, unknown>;
  declare mounts: CreationOptional<Record<string, unknown> | null>;
}

export function initStandinWorld(sequelize: Sequelize): void {
  StandinWorldRow.init(
    attributes({ linkId: key(uuid), setup: json, mounts: json }),
    tableOptions(sequelize, 'StandinWorldRow', 'standin_world'),
  );
}
