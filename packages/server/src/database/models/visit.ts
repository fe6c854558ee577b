import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, key, Row, tableOptions, text, time, uuid } from './columns';

/** One time that somebody was on site. */
export class VisitRow extends Row<VisitRow> {
  declare id: string;
  declare jobId: string;
  declare startedAt: Date;
  declare endedAt: CreationOptional<Date | null>;
  declare purpose: string;
  declare company: string;
  declare note: string;
  declare crewMemberId: string | null;
  declare version: CreationOptional<number>;
}

export function initVisit(sequelize: Sequelize): void {
  VisitRow.init(
    attributes({
      id: key(uuid),
      jobId: uuid,
      startedAt: time,
      endedAt: time,
      purpose: text,
      company: text,
      note: text,
      crewMemberId: uuid,
    }),
    tableOptions(sequelize, 'VisitRow', 'visit', 'locked'),
  );
}
