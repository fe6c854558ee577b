import type { Direction, EvidenceKind, ThroughputVerdict } from '@kivram/core';

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
  fileName: string | null;
  note: string;
  crewMemberId: string | null;
  evidenceKind: EvidenceKind;
  verdict: ThroughputVerdict;
  warning: string | null;
}
