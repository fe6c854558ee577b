import type { Diagnosis } from './diagnoses';
import type { MountAxis } from './reading';
import { binned, binWidths } from './bins';
import { lobeIsWhole } from './steering';
import { fitLobe, smoothedMaximumX, type LobeFit, type LobePoint } from './lobeFit';

/** Within so much of the prediction the path is clear and the job done; beyond it something is wrong (common practice, no source). */
export const clearWithinDb = 3;

/** A first side lobe lies 10 to 25 dB under the main lobe (common practice, no source); from this shortfall on one is thought of. */
export const sideLobeAtLeastDb = 7;

/** A lobe so much stronger than where the mount was left is the one to be on: more than fading and the other axis make. */
const strongerByDb = 5;

/** Crossed polarisation costs about 20 dB or more (common practice, no source). */
const crossedAtLeastDb = 17;

/** Beside a side lobe the flank of the main lobe begins within a beam width, whatever the antenna; a little more, for sheets are not exact. */
const besideWidths = 1.1;

/** A turn through half a lobe and more shows this; bins of fewer readings are left out. */
const turnedWidths = 0.5;
const turnedDb = 5;
const leastInBin = 3;

/** One chain so much weaker than another has a bad cable. */
const unevenDb = 6;

/** Levels over position along one axis, swept with the other axis left alone. */
export interface Sweep {
  axis: MountAxis;
  points: readonly LobePoint[];
  beamWidthDeg: number;
}

export interface LobeEvidence {
  /** level at the peak the mount was left on */
  peakDbm: number | null;
  /** what the prediction says with both ends aimed */
  expectedDbm: number;
  /** every sweep that was kept, in order */
  sweeps: readonly Sweep[];
  /** each chain's own level at rest, where the radio tells */
  chainsDbm?: readonly number[];
}

export interface DiagnosisResult {
  diagnosis: Diagnosis;
  shortDb: number | null;
  /** width of the lobe along the last axis that was swept, against the sheet's */
  widthRatio: number | null;
  reason: string;
}

/**
 * Says what a finished peak is, by comparing it with the prediction and by what lies beside it: a side lobe has a stronger neighbour, the main lobe has none,
 * whatever the antenna. Where nobody looked beside a lobe that is far too weak, that is said, and nothing more. Looked at from both sides, crossed polarisation is
 * far too weak and an obstructed path is short by less.
 */
export function diagnosePeak(evidence: LobeEvidence): DiagnosisResult {
  const { peakDbm, expectedDbm, sweeps } = evidence;
  if (peakDbm === null) {
    return { diagnosis: 'unknown', shortDb: null, widthRatio: null, reason: 'Nothing was heard at the end.' };
  }
  const shortDb = expectedDbm - peakDbm;
  const swept = sweeps.flatMap((sweep) => {
    const fit = fitOf(sweep);
    return fit && wasSwept(sweep.points, fit) ? [{ sweep, fit }] : [];
  });
  const last = swept.at(-1);
  const result = (diagnosis: Diagnosis, reason: string): DiagnosisResult => ({
    diagnosis,
    shortDb,
    widthRatio: last ? last.fit.width / last.sweep.beamWidthDeg : null,
    reason,
  });

  if (shortDb < -clearWithinDb) {
    return result(
      'stronger',
      'The level is higher than the prediction: check power, gain and cable losses of the plan.',
    );
  }
  if (shortDb <= clearWithinDb) {
    const alone = last ? '' : ' No sweep was kept, so whether this is the peak is not known.';
    return result('clear', `The level is within 3 dB of the prediction: the path is clear.${alone}`);
  }

  if (shortDb >= sideLobeAtLeastDb) {
    const beside = Math.max(...axes.map((axis) => strongestDbm(sweeps.findLast((sweep) => sweep.axis === axis))));
    if (beside > peakDbm + strongerByDb) {
      return result('sideLobe', `A lobe ${(beside - peakDbm).toFixed(0)} dB stronger lies beside this one.`);
    }
  }
  const isFarShort = shortDb >= sideLobeAtLeastDb;
  if (!last && !(isFarShort && sweeps.some(wasTurned))) {
    return result(
      'unswept',
      'The level is short of the prediction, and this end was not swept through a lobe: there is a level and nothing else. Sweep it from flank to flank to learn why.',
    );
  }
  const unseen = axes.filter((axis) => !sweeps.some((sweep) => sweep.axis === axis && lookedBeside(sweep)));
  if (isFarShort && unseen.length) {
    const ways = unseen.map((axis) => (axis === 'azimuth' ? 'left and right' : 'up and down')).join(', and ');
    return result(
      'unsearched',
      `The level is ${shortDb.toFixed(0)} dB short, and nobody looked beside this lobe: a side lobe looks the same. Turn a good beam width further to both sides, ${ways}.`,
    );
  }
  if (shortDb >= crossedAtLeastDb) {
    return result(
      'crossedPolarisation',
      'No stronger lobe lies beside this one, but the level is about 20 dB short: one end stands turned by 90 degrees.',
    );
  }
  const chains = evidence.chainsDbm ?? [];
  const uneven = chains.length > 1 ? Math.max(...chains) - Math.min(...chains) : 0;
  return result(
    'obstructed',
    uneven > unevenDb
      ? `One chain is ${uneven.toFixed(0)} dB weaker than the other: look at its cable or connector, then at the path.`
      : 'The lobe is the main lobe but short of the prediction: something stands in the path, or the other end is off.',
  );
}

const axes: readonly MountAxis[] = ['azimuth', 'tilt'];

function fitOf({ points, beamWidthDeg }: Sweep): LobeFit | undefined {
  return fitLobe(points, { width: beamWidthDeg, widthRelativeSd: 0.6, halfPlaySd: beamWidthDeg * 0.03 });
}

/** The level of the strongest part of a sweep. */
function strongestDbm(sweep: Sweep | undefined): number {
  if (!sweep) return -Infinity;
  const best = smoothedMaximumX(sweep.points, sweep.beamWidthDeg);
  return best === undefined ? -Infinity : meanNear(sweep.points, best, sweep.beamWidthDeg / 5);
}

/** Whether a mount was turned enough to be on another lobe now than at first: by more than an angle at rest trembles, and with levels that differ by more than fading. */
function wasTurned({ points, beamWidthDeg }: Sweep): boolean {
  const binDeg = beamWidthDeg * binWidths;
  const means = [...binned(points, binDeg).values()].flatMap(({ sum, count }) =>
    count >= leastInBin ? [sum / count] : [],
  );
  return means.length * binDeg >= turnedWidths * beamWidthDeg && Math.max(...means) - Math.min(...means) >= turnedDb;
}

/** Whether a sweep went far enough past its strongest part, to both sides, to have met a stronger lobe if there were one. */
function lookedBeside({ points, beamWidthDeg }: Sweep): boolean {
  const best = smoothedMaximumX(points, beamWidthDeg);
  if (best === undefined) return false;
  const beyond = besideWidths * beamWidthDeg;
  return points.some((p) => p.x <= best - beyond) && points.some((p) => p.x >= best + beyond);
}

/**
 * Both ends hear the same path, so a side lobe at one end costs the other as much: that end then only suffers from it.
 */
export function diagnoseEnds(
  near: DiagnosisResult,
  far: DiagnosisResult,
): { near: DiagnosisResult; far: DiagnosisResult } {
  const suffers = (here: DiagnosisResult, there: DiagnosisResult): DiagnosisResult => {
    if (!((here.shortDb ?? 0) > clearWithinDb)) return here;
    if (there.diagnosis === 'sideLobe' && here.diagnosis !== 'sideLobe') {
      return {
        ...here,
        diagnosis: 'otherEnd',
        reason: 'The other end sits on a side lobe, which costs this end as much. Aim the other end again.',
      };
    }
    const isMainLobe = here.diagnosis === 'obstructed' || here.diagnosis === 'crossedPolarisation';
    if (isMainLobe && there.diagnosis === 'unsearched') {
      return {
        ...here,
        diagnosis: 'otherEnd',
        reason: 'At the other end nobody looked beside its lobe; a side lobe there costs this end as much. Look there.',
      };
    }
    if (
      here.diagnosis === 'unswept' &&
      (there.diagnosis === 'obstructed' || there.diagnosis === 'crossedPolarisation')
    ) {
      return {
        ...here,
        diagnosis: 'otherEnd',
        reason:
          'This end was not swept. Both ends hear the same path: what the sweep at the other end says holds for this one.',
      };
    }
    return here;
  };
  return { near: suffers(near, far), far: suffers(far, near) };
}

/** Beyond so many widths from the peak is a flank, which must lie so far under the middle: more than fading and noise make of a mount at rest. */
const flankFromWidths = 0.35;
const leastFlankDropDb = 1.5;
const leastFlankPoints = 4;

/** Whether the mount was turned through a lobe: both flanks were seen, and both are lower than the middle. Noise of an angle at rest makes no flanks. */
function wasSwept(points: readonly LobePoint[], fit: LobeFit): boolean {
  if (!lobeIsWhole(fit)) return false;
  const mean = (from: number, to: number): number => {
    const part = points.filter((p) => p.x >= fit.x + from * fit.width && p.x < fit.x + to * fit.width);
    return part.length < leastFlankPoints ? NaN : part.reduce((sum, p) => sum + p.levelDbm, 0) / part.length;
  };
  const middleDbm = mean(-0.2, 0.2);
  const flanksDbm = [mean(-windowEndWidths, -flankFromWidths), mean(flankFromWidths, windowEndWidths)];
  return flanksDbm.every((flankDbm) => middleDbm - flankDbm >= leastFlankDropDb);
}

/** A lobe's own flanks end about here; beyond it the next lobe begins. */
const windowEndWidths = 1;

function meanNear(points: readonly LobePoint[], x: number, reach: number): number {
  const near = points.filter((p) => Math.abs(p.x - x) <= reach);
  return near.reduce((sum, p) => sum + p.levelDbm, 0) / Math.max(1, near.length);
}
