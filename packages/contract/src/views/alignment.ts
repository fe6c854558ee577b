import type { AimMark, AngleSource, DiagnosisResult, End, Reading } from '@kivram/core';

/** What one end's radio was left at. */
export interface AlignmentEndResult extends DiagnosisResult {
  end: End;
  rslDbm: number | null;
  expectedDbm: number;
  chainsDbm: number[];
}

export interface AlignmentSummary {
  id: string;
  linkId: string;
  state: 'running' | 'finished' | 'abandoned';
  startedAt: string;
  finishedAt: string | null;
  crewMemberId: string | null;
  nearSource: AngleSource;
  farSource: AngleSource;
  order: 'endByEnd' | 'axisByAxis';
  /** the ends that are turned; a hub's antenna stays where it points */
  ends: End[];
  result: { near: AlignmentEndResult; far: AlignmentEndResult } | null;
}

/** A mark with the id that its client gave it, by which it is told apart from another of the same moment. */
export type Tap = AimMark & { id: string };

export interface AlignmentView extends AlignmentSummary {
  expectedDbm: { near: number; far: number };
  samples: Reading[];
  marks: Tap[];
}

/** What the stream of an alignment sends. */
export type AimEvent =
  | { type: 'reading'; readings: Reading[]; atMs: number }
  | { type: 'mark'; mark: Tap }
  | { type: 'ended'; state: 'finished' | 'abandoned' }
  /** nothing can be read or kept now, and why */
  | { type: 'trouble'; words: string };
