import type { Basis } from './basis';

/**
 * How something is known: `measured` by a real device, `told` by a person, or done by a `standin`, a simulated radio. What a stand-in did proves
 * something in a practice job only.
 */
export const evidenceKinds = ['measured', 'told', 'standin'] as const;
export type EvidenceKind = (typeof evidenceKinds)[number];

/** What a state rests on: how it is known, since when, by whom, and what it was true for. */
export interface Evidence {
  kind: EvidenceKind;
  /** ISO time */
  at: string;
  crewMemberId: string | null;
  /** the fingerprint: what plan, sheets and models were then; null for records that were made before Kivram kept it */
  basis: Basis | null;
}

export const evidenceWords: Record<EvidenceKind, string> = {
  measured: 'measured',
  told: 'noted by hand',
  standin: 'stand-in radios',
};
