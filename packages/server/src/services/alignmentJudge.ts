import { setImmediate } from 'node:timers/promises';
import type { AlignmentEndResult, AlignmentSummary } from '@kivram/contract';
import {
  AimGuide,
  aimPlanOf,
  diagnoseEnds,
  diagnosePeak,
  replayInTurns,
  type AimMark,
  type End,
  type Reading,
} from '@kivram/core';
import type { AlignmentPlan } from '../database/models';
import type { LinkRecord } from './linkRecords';

/** The last seconds of readings by which an end is judged. */
const finalSeconds = 3;

type Models = Pick<LinkRecord, End>;

/** The guide of an alignment, as its plan sets it up. */
export function guideFor(plan: AlignmentPlan, { near, far }: Models): AimGuide {
  return new AimGuide(aimPlanOf({ near: near.model, far: far.model }, plan));
}

/** Replays an alignment through the guide and judges both ends by what the replay shows; others are served in between. */
export async function judge(
  plan: AlignmentPlan,
  models: Models,
  readings: readonly Reading[],
  marks: readonly AimMark[],
): Promise<NonNullable<AlignmentSummary['result']>> {
  const guide = await replayed(guideFor(plan, models), readings, marks);
  const endS = readings.at(-1)?.tS ?? 0;
  const result = (end: End): AlignmentEndResult => {
    const last = readings.filter((r) => r.end === end && r.tS > endS - finalSeconds);
    const levels = last.flatMap((r) => (r.rslDbm === null ? [] : [r.rslDbm]));
    const rslDbm = levels.length * 2 > last.length ? mean(levels) : null;
    const { model } = models[end];
    const chainsDbm =
      rslDbm === null
        ? []
        : Array.from({ length: model.streams }, (_, i) => mean(last.flatMap((r) => r.chainsDbm[i] ?? [])));
    const swept = guide.done.filter((s) => s.end === end && s.axis === 'azimuth').at(-1)?.points;
    // An axis that was left before the guide was content has its sweep all the same.
    const unfinished = guide.step?.end === end && guide.step.axis === 'azimuth' ? guide.points() : [];
    return {
      end,
      rslDbm,
      chainsDbm,
      expectedDbm: plan.expectedDbm[end],
      ...diagnosePeak({
        peakDbm: rslDbm,
        expectedDbm: plan.expectedDbm[end],
        points: swept ?? unfinished,
        beamWidthDeg: model.beamWidth.azimuthDeg,
        chainsDbm,
      }),
    };
  };
  const [near, far] = [result('near'), result('far')];
  const diagnosed = diagnoseEnds(near, far);
  return { near: { ...near, ...diagnosed.near }, far: { ...far, ...diagnosed.far } };
}

async function replayed(guide: AimGuide, readings: readonly Reading[], marks: readonly AimMark[]): Promise<AimGuide> {
  const turns = replayInTurns(guide, readings, marks);
  for (;;) {
    const turn = turns.next();
    if (turn.done) return turn.value;
    await setImmediate();
  }
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, v) => sum + v, 0) / Math.max(1, values.length);
}
