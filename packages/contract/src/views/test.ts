import type { EvidenceKind } from '@kivram/core/evidence/evidence';
import type { RunConditions } from '@kivram/core/throughput/run';
import type { Direction, ThroughputVerdict } from '@kivram/core/verdict/throughputVerdict';

/** What a file of a throughput test may hold: a run of an hour, and more. */
export const testLimits = { characters: 10_000_000 } as const;

export interface ThroughputTest {
  id: string;
  at: string;
  direction: Direction;
  source: 'iperf3' | 'standin' | 'hand';
  protocol: 'TCP' | 'UDP';
  mbps: number;
  seconds: number | null;
  retransmits: number | null;
  lossShare: number | null;
  jitterMs: number | null;
  aborted: boolean;
  bothLoaded: boolean;
  /** the other direction of the same run, where both were loaded */
  otherMbps: number | null;
  /** how it was run; null where only a figure is known */
  conditions: RunConditions | null;
  fileName: string | null;
  note: string;
  crewMemberId: string | null;
  evidenceKind: EvidenceKind;
  verdict: ThroughputVerdict;
  warning: string | null;
}
