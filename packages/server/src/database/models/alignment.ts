import type { AlignmentSummary, LevelsFrom } from '@kivram/contract/views/alignment';
import type { Basis } from '@kivram/core/evidence/basis';
import type { EvidenceKind } from '@kivram/core/evidence/evidence';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, id, json, Row, tableOptions, text, time, uuid } from './columns';

/** What an alignment set out with. */
export type AlignmentPlan = Pick<AlignmentSummary, 'nearSource' | 'farSource' | 'order' | 'ends'> & {
  expectedDbm: { near: number; far: number };
};

export class AlignmentRow extends Row<AlignmentRow> {
  declare id: CreationOptional<string>;
  declare linkId: string;
  declare state: AlignmentSummary['state'];
  declare startedAt: Date;
  declare finishedAt: CreationOptional<Date | null>;
  declare crewMemberId: string | null;
  declare plan: AlignmentPlan;
  /** where the levels came from, as it changed */
  declare levelsFrom: CreationOptional<LevelsFrom[]>;
  declare result: CreationOptional<AlignmentSummary['result']>;
  declare evidenceKind: EvidenceKind;
  declare basis: Basis | null;
}

export function initAlignment(sequelize: Sequelize): void {
  AlignmentRow.init(
    attributes({
      id,
      linkId: uuid,
      state: text,
      startedAt: time,
      finishedAt: time,
      crewMemberId: uuid,
      plan: json,
      levelsFrom: { ...json, defaultValue: [] },
      result: json,
      evidenceKind: text,
      basis: json,
    }),
    tableOptions(sequelize, 'AlignmentRow', 'alignment'),
  );
}
