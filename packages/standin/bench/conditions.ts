import type { AngleSource } from '@kivram/core/aiming/reading';
import { antennas, type Antenna } from '../src/world/antenna';
import { confusedHand, slowHand } from '../src/world/hands/handSetup';
import type { TrialSetup } from '../src/world/trial';

/** One line of the table: something that makes aiming hard, tried with each way of knowing the angle that it concerns. */
export interface Condition {
  name: string;
  setup: Omit<TrialSetup, 'source'>;
  sources: readonly AngleSource[];
}

const all: readonly AngleSource[] = ['phone', 'scale', 'none'];

const usual: Omit<TrialSetup, 'source'> = {
  antenna: 'taperedDish',
  beamDeg: 6,
  playDeg: 0.5,
  startWidths: 3,
  levelled: true,
  sheetSpread: 0.1,
};

const pulled = (least: number, most: number): Partial<TrialSetup> => ({
  conditions: { bolts: { pulledWidths: [least, most], seconds: 4 } },
});

/** What a line changes of the usual. */
interface Line {
  name: string;
  changes: Partial<TrialSetup>;
  sources?: readonly AngleSource[];
}

/** The antennas of which each family is one. */
export const families = Object.keys(antennas).filter((name) => name !== 'rod') as Antenna[];

export const conditions: readonly Condition[] = [
  { name: 'usual', changes: {} },
  ...[3, 12, 30, 60].map((beamDeg) => ({
    name: `beam of ${beamDeg} degrees`,
    changes: { beamDeg, antenna: beamDeg > 12 ? ('fourPatches' as const) : ('taperedDish' as const) },
  })),
  ...families
    .filter((antenna) => antenna !== usual.antenna)
    .map((antenna) => ({ name: `antenna: ${antenna}, sheet 20 % off`, changes: { antenna, sheetSpread: 0.2 } })),
  {
    name: 'Rician fading, K 6 dB, 0.5 s',
    changes: { conditions: { fading: { kind: 'rician' as const, kDb: 6, correlationS: 0.5 } } },
  },
  {
    name: 'Rician fading, K 6 dB, 2 s',
    changes: { conditions: { fading: { kind: 'rician' as const, kDb: 6, correlationS: 2 } } },
  },
  {
    name: 'a reading a second, every tenth lost',
    changes: { conditions: { meter: { everyS: 1, quantumDb: 1, missingShare: 0.1 } } },
  },
  { name: 'bolts pull by 0.1 to 0.4 widths', changes: pulled(0.1, 0.4) },
  { name: 'bolts pull by 0.5 to 0.8 widths', changes: pulled(0.5, 0.8) },
  { name: 'hand reacts in 1 to 1.5 s', changes: { hand: slowHand } },
  { name: 'turned the wrong way for 2 s', changes: { hand: confusedHand } },
  { name: '1 degree of play, 3 degree dish', changes: { playDeg: 1, beamDeg: 3 } },
  { name: 'starts up to 5 widths to the side', changes: { startWidths: 5 } },
  { name: 'starts up to 3 widths anywhere', changes: { startWidths: 3, levelled: false } },
  { name: 'end stop 2 widths to the right', changes: { stopsWidths: [-7, 2] as const, startWidths: 2 } },
  {
    name: 'phone wanders 1.5 degrees a minute, 3 degree dish',
    sources: ['phone'] as const,
    changes: {
      beamDeg: 3,
      conditions: { phone: { kind: 'wandering' as const, noiseDeg: 1.5, degPerMinute: 1.5 } },
    },
  },
  {
    name: 'phone near iron, 3 degree dish',
    sources: ['phone'] as const,
    changes: {
      beamDeg: 3,
      conditions: { phone: { kind: 'nearIron' as const, noiseDeg: 1.5, pulledDeg: 3, withinDeg: 24 } },
    },
  },
].map(({ name, changes, sources = all }: Line) => ({ name, setup: { ...usual, ...changes }, sources }));
