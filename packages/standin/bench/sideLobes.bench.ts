import { AngleGuide, PhoneTrack, diagnosePeak, phoneNoiseDeg, sweepSeconds, type Diagnosis } from '@kivram/core';
import { AimWorld, Random, usualConditions, type WorldConditions } from '../src';

/** Where the first side lobe of each aperture has its peak, in beam widths. */
const sideLobeWidths = { dish: 1.59, panel: 1.614 };

const alignedDbm = -48;

/**
 * An installer who swept back and forth over one lobe only and stopped there; what is it called? `around` says which lobe: 0 for the main
 * one, 1 or -1 for a first side lobe.
 */
export function callLobe(
  aperture: 'dish' | 'panel',
  beamDeg: number,
  around: -1 | 0 | 1,
  changes: Partial<WorldConditions>,
  seed: number,
): Diagnosis {
  const random = new Random(seed);
  const centreDeg = around * sideLobeWidths[aperture] * beamDeg;
  const end = {
    aperture,
    beam: { azimuthDeg: beamDeg, elevationDeg: beamDeg },
    startAzimuthDeg: centreDeg - 0.55 * beamDeg,
    startTiltDeg: random.between(-0.15, 0.15) * beamDeg,
    playDeg: 0.5,
    alignedDbm: alignedDbm - random.between(0, 1.5),
    floorDbm: -92,
    chains: 2,
  };
  const world = new AimWorld(
    end,
    { ...end, startAzimuthDeg: 0, startTiltDeg: 0 },
    { ...usualConditions, ...changes },
    seed + 31,
  );
  const plan = {
    beamWidthDeg: beamDeg,
    expectedDbm: alignedDbm,
    speedDegPerS: beamDeg / sweepSeconds,
    nearPeak: false,
  };
  const guide = new AngleGuide(plan, new PhoneTrack(phoneNoiseDeg, plan.speedDegPerS));
  let tS = 0;
  const levels: number[] = [];
  const turn = (widths: number, seconds: number): void => {
    for (let i = 0; i < seconds * 10; i++) {
      world.turn('near', 'azimuth', (widths * beamDeg) / (seconds * 10));
      world.step(0.1);
      const reading = world.read('near');
      guide.push({ tS: (tS += 0.1), rslDbm: reading.rslDbm, angleDeg: reading.phoneAzimuthDeg, turning: 0 });
      if (reading.rslDbm !== null) levels.push(reading.rslDbm);
    }
  };
  for (const widths of [1.1, -1.1, 1.1, -1.1, 0.55]) turn(widths, 6.6);
  turn(0, 3);
  const last = levels.slice(-30);
  const peakDbm = last.reduce((sum, l) => sum + l, 0) / Math.max(1, last.length);
  return diagnosePeak({ peakDbm, expectedDbm: alignedDbm, points: guide.points(), beamWidthDeg: beamDeg }).diagnosis;
}
