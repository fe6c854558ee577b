import type { Diagnosis } from '@kivram/core/aiming/diagnoses';
import { diagnosePeak, type Sweep } from '@kivram/core/aiming/diagnosis';
import type { MountAxis } from '@kivram/core/aiming/reading';
import { Random } from '../src/random';
import { AimWorld, usualConditions, type WorldConditions } from '../src/world/aimWorld';
import { patternLossDb, type Antenna } from '../src/world/antenna';
import { runTrial } from '../src/world/trial';

const beamDeg = 6;
const beam = { azimuthDeg: beamDeg, elevationDeg: beamDeg };
const expectedDbm = -48;
const sheetSpread = 0.2;

/** Where the first side lobe to the right has its peak, in true beam widths. */
function sideLobeWidths(antenna: Antenna): number {
  const lossDb = (widths: number): number => patternLossDb(antenna, widths * beamDeg, 0, beam);
  let widths = 0.8;
  while (lossDb(widths + 0.02) > lossDb(widths)) widths += 0.02;
  while (lossDb(widths + 0.02) < lossDb(widths)) widths += 0.02;
  return widths;
}

/** An installer who swept back and forth over a side lobe only, along one axis, and stopped there: what is it called? The sheet is up to 20 % wrong. */
function callOneLobe(antenna: Antenna, axis: MountAxis, seed: number): Diagnosis {
  const random = new Random(seed);
  const trueDeg = beamDeg * (1 + random.between(-sheetSpread, sheetSpread));
  const lobeDeg = sideLobeWidths(antenna) * trueDeg;
  const start = { azimuth: 0, tilt: 0, [axis]: lobeDeg - 0.55 * trueDeg };
  const end = {
    antenna,
    beam: { azimuthDeg: trueDeg, elevationDeg: trueDeg },
    startAzimuthDeg: start.azimuth,
    startTiltDeg: start.tilt,
    playDeg: 0.5,
    alignedDbm: expectedDbm - random.between(0, 1.5),
    floorDbm: -92,
    chains: 2,
  };
  const fixed = { ...end, startAzimuthDeg: 0, startTiltDeg: 0 };
  const world = new AimWorld(end, fixed, usualConditions, seed + 31);
  const points: Sweep['points'][number][] = [];
  const turn = (widths: number): void => {
    for (let i = 0; i < 66; i++) {
      world.turn('near', axis, (widths * trueDeg) / 66);
      world.step(0.1);
      const { rslDbm } = world.read('near');
      const x = world.scaleDeg('near', axis);
      if (rslDbm !== null) points.push({ x, levelDbm: rslDbm, pushedFrom: 0, agoS: 0 });
    }
  };
  for (const widths of [1.1, -1.1, 1.1, -1.1, 0.55]) turn(widths);
  const rest = points.slice(-5);
  const peakDbm = rest.reduce((sum, p) => sum + p.levelDbm, 0) / rest.length;
  return diagnosePeak({ peakDbm, expectedDbm, sweeps: [{ axis, points, beamWidthDeg: beamDeg }] }).diagnosis;
}

/** An installer who begins on a side lobe, or on the main lobe, and follows the guide: where does it end, and what is it called? */
function callGuided(
  antenna: Antenna,
  from: MountAxis | 'mainLobe',
  conditions: Partial<WorldConditions>,
  seed: number,
): { lossDb: number; diagnosis: Diagnosis } {
  const offWidths = from === 'mainLobe' ? 0.6 : sideLobeWidths(antenna);
  const { lossDb, steps, levelDbm } = runTrial(
    {
      antenna,
      beamDeg,
      source: 'phone',
      playDeg: 0.5,
      conditions,
      sheetSpread,
      startWidths: 0,
      startAtWidths: from === 'tilt' ? { azimuth: 0.2, tilt: offWidths } : { azimuth: offWidths, tilt: 0.2 },
    },
    seed,
  );
  const sweeps = steps.map(({ axis, points }) => ({ axis, points, beamWidthDeg: beamDeg }));
  return { lossDb, diagnosis: diagnosePeak({ peakDbm: levelDbm, expectedDbm, sweeps }).diagnosis };
}

/** Side lobes that were called, of installers who swept one only; those who began on one and were left there without a word; main lobes that were called side lobes. */
export const lobeColumns = [
  'one azimuth',
  'one tilt',
  'left azimuth',
  'left tilt',
  'clear',
  'trees',
  'crossed',
] as const;
export type LobeColumn = (typeof lobeColumns)[number];

/** Whether one of them is counted, by its seed. */
export function isCounted(antenna: Antenna, column: LobeColumn, seed: number): boolean {
  const isCalled = (diagnosis: Diagnosis): boolean => diagnosis === 'sideLobe' || diagnosis === 'unsearched';
  const one = (axis: MountAxis): boolean => isCalled(callOneLobe(antenna, axis, seed));
  const left = (axis: MountAxis): boolean => {
    const { lossDb, diagnosis } = callGuided(antenna, axis, {}, seed);
    return lossDb > 3 && !isCalled(diagnosis);
  };
  const falsely = (conditions: Partial<WorldConditions>): boolean =>
    isCalled(callGuided(antenna, 'mainLobe', conditions, seed).diagnosis);
  switch (column) {
    case 'one azimuth':
      return one('azimuth');
    case 'one tilt':
      return one('tilt');
    case 'left azimuth':
      return left('azimuth');
    case 'left tilt':
      return left('tilt');
    case 'clear':
      return falsely({});
    case 'trees':
      return falsely({ obstructionDb: 10 });
    case 'crossed':
      return falsely({ crossedPolarisation: true });
  }
}
