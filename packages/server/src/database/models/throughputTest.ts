import type { Basis } from '@kivram/core/evidence/basis';
import type { EvidenceKind } from '@kivram/core/evidence/evidence';
import type { RunConditions } from '@kivram/core/throughput/run';
import type { Direction, ThroughputVerdict } from '@kivram/core/verdict/throughputVerdict';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { attributes, flag, id, json, number, Row, tableOptions, text, time, uuid, whole } from './columns';

export class ThroughputTestRow extends Row<ThroughputTestRow> {
  declare id: CreationOptional<string>;
  declare linkId: string;
  declare at: Date;
  declare direction: Direction;
  declare source: 'iperf3' | 'standin' | 'hand';
  declare protocol: 'TCP' | 'UDP';
  declare mbps: number;
  declare seconds: number | null;
  declare retransmits: number | null;
  declare lossShare: number | null;
  declare jitterMs: number | null;
  declare aborted: boolean;
  declare bothLoaded: boolean;
  /** the other direction of the same run */
  declare otherMbps: number | null;
  declare conditions: RunConditions | null;
  /** what the link should have given when the test ran */
  declare expectedMbps: number | null;
  declare evidenceKind: EvidenceKind;
  declare basis: Basis | null;
  declare fileName: string | null;
  declare note: CreationOptional<string>;
  declare crewMemberId: string | null;
  declare verdict: ThroughputVerdict;
  declare warning: string | null;
  declare raw: Record<string, unknown> | null;
  declare sha256: string | null;
}

export function initThroughputTest(sequelize: Sequelize): void {
  ThroughputTestRow.init(
    attributes({
      id,
      linkId: uuid,
      at: time,
      direction: text,
      source: text,
      protocol: text,
      mbps: number,
      seconds: number,
      retransmits: whole,
      lossShare: number,
      jitterMs: number,
      aborted: flag,
      bothLoaded: flag,
      otherMbps: number,
      conditions: json,
      expectedMbps: number,
      evidenceKind: text,
      basis: json,
      fileName: text,
      note: { ...text, defaultValue: '' },
      crewMemberId: uuid,
      verdict: json,
      warning: text,
      raw: json,
      sha256: text,
    }),
    tableOptions(sequelize, 'ThroughputTestRow', 'throughput_test'),
  );
}
