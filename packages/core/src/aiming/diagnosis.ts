import type { Diagnosis } from './diagnoses';
import { lobeIsWhole } from './steering';
import { fitLobe, smoothedMaximumX, type LobeFit, type LobePoint } from './lobeFit';

/** Within so much of the prediction the path is clear and the job done; beyond it something is wrong (common practice, no source). */
export const clearWithinDb = 3;

/** A first side lobe lies 10 to 25 dB under the main lobe (common practice, no source). */
const sideLobeAtLeastDb = 7;

/** Crossed polarisation costs about 20 dB or more (common practice, no source). */
const crossedAtLeastDb = 17;

/** Side lobes of an aperture are about half as wide as its main lobe: 0.54 for a uniform circular one, 0.62 for a square one. */
const sideLobeWidthRatio = 0.78;

export interface LobeEvidence {
  /** level at the peak the mount was left on */
  peakDbm: number | null;
  /** what the prediction says with both ends aimed */
  expectedDbm: number;
  /** levels over position along an axis, around that peak; empty where none were kept */
  points: readonly LobePoint[];
  beamWidthDeg: number;
  /** each chain's own level at rest, where the radio tells */
  chainsDbm?: readonly number[];
}

export interface DiagnosisResult {
  diagnosis: Diagnosis;
  shortDb: number | null;
  widthRatio: number | null;
  reason: string;
}

/**
 * Says what a finished peak is, by comparing it with the prediction and by its shape: a side lobe is far too weak and too narrow, or has a
 * stronger lobe beside it; crossed polarisation is far too weak but has the main lobe's shape; an obstructed path is short by less.
 */
export function diagnosePeak(evidence: LobeEvidence): DiagnosisResult {
  const { peakDbm, expectedDbm, points, beamWidthDeg } = evidence;
  if (peakDbm === null) {
    return { diagnosis: 'unknown', shortDb: null, widthRatio: null, reason: 'Nothing was heard at the end.' };
  }
  const shortDb = expectedDbm - peakDbm;
  const fit = fitLobe(points, { width: beamWidthDeg, widthRelativeSd: 0.6, halfPlaySd: beamWidthDeg * 0.03 });
  const loose = fit && wasSwept(points, fit) ? fit : undefined;
  const widthRatio = loose ? loose.width / beamWidthDeg : null;
  const result = (diagnosis: Diagnosis, reason: string): DiagnosisResult => ({
    diagnosis,
    shortDb,
    widthRatio,
    reason,
  });

  if (shortDb < -clearWithinDb) {
    return result(
      'stronger',
      'The level is higher than the prediction: check power, gain and cable losses of the plan.',
    );
  }
  if (shortDb <= clearWithinDb) {
    const alone = loose ? '' : ' No sweep was kept, so whether this is the peak is not known.';
    return result('clear', `The level is within 3 dB of the prediction: the path is clear.${alone}`);
  }

  if (shortDb >= sideLobeAtLeastDb) {
    const best = smoothedMaximumX(points, beamWidthDeg);
    const strongest = best === undefined ? null : meanNear(points, best, beamWidthDeg / 5);
    if (strongest !== null && strongest > peakDbm + 5) {
      return result('sideLobe', `A lobe ${(strongest - peakDbm).toFixed(0)} dB stronger lies beside this one.`);
    }
    if (loose && widthRatio !== null && widthRatio < sideLobeWidthRatio && lobeIsWhole(loose)) {
      return result(
        'sideLobe',
        `The lobe is only ${(widthRatio * 100).toFixed(0)} % as wide as the main lobe of this antenna.`,
      );
    }
  }
  if (!loose) {
    return result(
      'unswept',
      'The level is short of the prediction, and this end was not swept through a lobe: there is a level and nothing else. Sweep it from flank to flank to learn why.',
    );
  }
  if (shortDb >= crossedAtLeastDb) {
    return result(
      'crossedPolarisation',
      'The lobe has the width of the main lobe, but the level is about 20 dB short: one end stands turned by 90 degrees.',
    );
  }
  const chains = evidence.chainsDbm ?? [];
  const uneven = chains.length > 1 ? Math.max(...chains) - Math.min(...chains) : 0;
  return result(
    'obstructed',
    uneven > 6
      ? `One chain is ${uneven.toFixed(0)} dB weaker than the other: look at its cable or connector, then at the path.`
      : 'The lobe is the main lobe but short of the prediction: something stands in the path, or the other end is off.',
  );
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
