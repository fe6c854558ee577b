import type { AimMark } from '@kivram/core/aiming/aimGuide';
import type { DiagnosisResult } from '@kivram/core/aiming/diagnosis';
import type { LevelWay } from '@kivram/core/aiming/levelWay';
import type { AngleSource, Reading } from '@kivram/core/aiming/reading';
import type { End } from '@kivram/core/budget/plan';

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
  /** where the levels came from, as it changed */
  levelsFrom: LevelsFrom[];
  result: { near: AlignmentEndResult; far: AlignmentEndResult } | null;
}

/** A mark with the id that its client gave it, by which it is told apart from another of the same moment. */
export type Tap = AimMark & { id: string; end: End };

/** Since when the level at one end came from where, seconds into the alignment. */
export interface LevelsFrom {
  tS: number;
  end: End;
  way: LevelWay;
}

/** Somebody who has the alignment open. */
export interface Present {
  /** made by the page when it was opened */
  device: string;
  name: string;
  /** where they are; null for who only looks on */
  end: End | null;
}

export interface AlignmentView extends AlignmentSummary {
  expectedDbm: { near: number; far: number };
  samples: Reading[];
  marks: Tap[];
}

/** What the stream of an alignment sends. */
export type AimEvent =
  | { type: 'reading'; readings: Reading[]; atMs: number }
  | { type: 'mark'; mark: Tap }
  /** levels of the past came in: what was heard until now is read anew */
  | { type: 'readAgain' }
  /** who has the alignment open now */
  | { type: 'crew'; present: Present[] }
  /** where the level of an end comes from now, and why none comes */
  | { type: 'source'; end: End; way: LevelWay; trouble: string | null }
  | { type: 'ended'; state: 'finished' | 'abandoned' }
  /** nothing can be read or kept now, and why */
  | { type: 'trouble'; words: string };

/** The title of the problem where an alignment is not read on before somebody asks for it. */
export const notReadOn = 'Not read on';

/** The title of the question whether it is meant that an end heard nothing. */
export const nothingHeardTitle = 'Nothing heard';
