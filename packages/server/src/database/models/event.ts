import type { EventKind } from '@kivram/contract/entities/event';
import { DataTypes, type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, json, Row, tableOptions, text, time, uuid } from './columns';

export class EventRow extends Row<EventRow> {
  declare id: CreationOptional<string>;
  declare jobId: string;
  declare linkId: string | null;
  declare at: CreationOptional<Date>;
  declare crewMemberId: string | null;
  declare changeId: CreationOptional<string | null>;
  declare kind: EventKind;
  declare summary: string;
  declare detail: CreationOptional<Record<string, unknown>>;
}

export function initEvent(sequelize: Sequelize): void {
  EventRow.init(
    attributes({
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      jobId: uuid,
      linkId: uuid,
      at: { ...time, defaultValue: DataTypes.NOW },
      crewMemberId: uuid,
      changeId: uuid,
      kind: text,
      summary: text,
      detail: { ...json, defaultValue: {} },
    }),
    tableOptions(sequelize, 'EventRow', 'event'),
  );
}
