import type { BeamWidth } from '../antenna/mainLobe';
import type { End } from '../budget/plan';
import type { Model } from '../gear/model';
import { AimGuide, type AimMark, type AimPlan } from './aimGuide';
import type { LevelWay } from './levelWay';
import { scaleNotchDeg, type AngleSource, type MountAxis, type Reading } from './reading';

/** What an alignment set out with. */
export interface AimStart {
  nearSource: AngleSource;
  farSource: AngleSource;
  order: AimPlan['order'];
  /** the ends that are turned: a hub's antenna stays where it points */
  ends: readonly End[];
  expectedDbm: Record<End, number>;
  /** where the levels of the ends came from, as it changed */
  levelsFrom?: readonly { end: End; way: LevelWay }[];
}

/** The guide of an alignment, set up from what it set out with and the two models. */
export function aimPlanOf(models: Record<End, Pick<Model, 'beamWidth'>>, start: AimStart): AimPlan {
  const aim = (end: End, source: AngleSource): AimPlan['near'] => ({
    beam: models[end].beamWidth,
    expectedDbm: start.expectedDbm[end],
    source,
    notchDeg: notchesOf(models[end].beamWidth),
    isLate: start.levelsFrom?.filter((from) => from.end === end).at(-1)?.way === 'table',
  });
  return {
    near: aim('near', start.nearSource),
    far: aim('far', start.farSource),
    order: start.order,
    ends: start.ends,
  };
}

/** Degrees per notch of the scales on the mount of an antenna. */
export function notchesOf(beam: BeamWidth): Record<MountAxis, number> {
  return { azimuth: scaleNotchDeg(beam.azimuthDeg), tilt: scaleNotchDeg(beam.elevationDeg) };
}

/** Readings between two pauses of a replay: some milliseconds of work. */
const readingsATurn = 500;

/**
 * Feeds readings and marks to a guide in the order in which they happened. `each` sees every reading before the guide does. It pauses now and then, so that
 * whoever replays a long alignment can let others work in between.
 */
export function* replayInTurns(
  guide: AimGuide,
  readings: readonly Reading[],
  marks: readonly AimMark[],
  each?: (reading: Reading) => void,
): Generator<void, AimGuide> {
  let next = 0;
  let fed = 0;
  for (const reading of readings) {
    for (let mark = marks[next]; mark && mark.tS <= reading.tS; mark = marks[++next]) guide.mark(mark);
    each?.(reading);
    guide.push(reading);
    if (++fed % readingsATurn === 0) yield;
  }
  for (const mark of marks.slice(next)) guide.mark(mark);
  return guide;
}

/** The same without a pause. */
export function replayAim(...from: Parameters<typeof replayInTurns>): AimGuide {
  const turns = replayInTurns(...from);
  let turn = turns.next();
  while (!turn.done) turn = turns.next();
  return turn.value;
}
