import type { InstrumentJudgement } from '@kivram/core/instruments/school';
import type { PathCheckBody } from '../requests/pathCheck';

/** A path as it was measured with instruments, and judged against the prediction of that time. */
export interface PathCheck extends PathCheckBody, InstrumentJudgement {
  id: string;
  at: string;
  crewMemberId: string | null;
  predictedDbm: number;
}
