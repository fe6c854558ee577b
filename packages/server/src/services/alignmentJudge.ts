import { setImmediate } from 'node:timers/promises';
import type { AlignmentEndResult, AlignmentSummary, LevelsFrom } from '@kivram/contract/views/alignment';
import { AimGuide, type AimMark } from '@kivram/core/aiming/aimGuide';
import { aimPlanOf, replayInTurns } from '@kivram/core/aiming/alignment';
import { diagnoseEnds, diagnosePeak, type Sweep } from '@kivram/core/aiming/diagnosis';
import type { LobePoint } from '@kivram/core/aiming/lobeFit';
import { standingReadings } from '@kivram/core/aiming/standingLevel';
import type { MountAxis, Reading } from '@kivram/core/aiming/reading';
import type { End } from '@kivram/core/budget/plan';
import type { Model } from '@kivram/core/gear/model';
import type { AlignmentPlan } from '../database/models/alignment';
import type { LinkRecord } from './linkRecords';

type Models = Pick<LinkRecord, End>;

/** The guide of an alignment, as its plan sets it up. */
export function guideFor(plan: AlignmentPlan, { near, far }: Models, levelsFrom: readonly LevelsFrom[] = []): AimGuide {
  return new AimGuide(aimPlanOf({ near: near.model, far: far.model }, { ...plan, levelsFrom }));
}

/** Replays an alignment through the guide and judges both ends by what the replay shows; others are served in between. */
export async function judge(
  plan: AlignmentPlan,
  models: Models,
  readings: readonly Reading[],
  marks: readonly (AimMark & { end: End })[],
  levelsFrom: readonly LevelsFrom[] = [],
): Promise<NonNullable<AlignmentSummary['result']>> {
  const guide = await replayed(guideFor(plan, models, levelsFrom), readings, marks);
  const result = (end: End): AlignmentEndResult => {
    const { azimuthDeg, elevationDeg } = models[end].model.beamWidth;
    const way = levelsFrom.filter((from) => from.end === end).at(-1)?.way;
    const last = standingReadings(readings, marks, end, way, Math.min(azimuthDeg, elevationDeg));
    const levels = last.flatMap((r) => (r.rslDbm === null ? [] : [r.rslDbm]));
    const rslDbm = levels.length * 2 > last.length ? mean(levels) : null;
    const { model } = models[end];
    const chainsDbm =
      rslDbm === null
        ? []
        : Array.from({ length: model.streams }, (_, i) => last.flatMap((r) => r.chainsDbm[i] ?? [])).flatMap((told) =>
            told.length ? [mean(told)] : [],
          );
    // An axis that was left before the guide was content has its sweep all the same.
    const steps = [...guide.done, ...(guide.step ? [{ ...guide.step, points: guide.points() }] : [])];
    const sweeps = steps.filter((step) => step.end === end).map(({ axis, points }) => sweepOf(model, axis, points));
    return {
      end,
      rslDbm,
      chainsDbm,
      expectedDbm: plan.expectedDbm[end],
      ...diagnosePeak({
        peakDbm: rslDbm,
        expectedDbm: plan.expectedDbm[end],
        sweeps,
        chainsDbm,
      }),
    };
  };
  const [near, far] = [result('near'), result('far')];
  const diagnosed = diagnoseEnds(near, far);
  return { near: { ...near, ...diagnosed.near }, far: { ...far, ...diagnosed.far } };
}

function sweepOf({ beamWidth }: Pick<Model, 'beamWidth'>, axis: MountAxis, points: readonly LobePoint[]): Sweep {
  return { axis, points, beamWidthDeg: axis === 'azimuth' ? beamWidth.azimuthDeg : beamWidth.elevationDeg };
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
