import {
  apertureLossDb,
  checkPair,
  fitLobe,
  predictLink,
  type AngleSource,
  type LinkPlan,
  type LobePoint,
} from '@kivram/core';
import { runHabit, runTrial, usualConditions, type TrialSetup } from '../src';
import { testLaw, testModel } from '../test/models';
import { boundLossDb, peakBoundWidths } from './bound.bench';
import { callLobe } from './sideLobes.bench';
import { quantile, timeUs } from './statistics.bench';

const trials = Number(process.argv[2] ?? 1000);
if (!(Number.isInteger(trials) && trials > 0)) throw new RangeError('the number of alignments must be a whole number');

const antennas: { name: string; aperture: 'dish' | 'panel'; beamDeg: number; notchDeg: number }[] = [
  { name: 'panel 30 deg', aperture: 'panel', beamDeg: 30, notchDeg: 5 },
  { name: 'dish 6 deg', aperture: 'dish', beamDeg: 6, notchDeg: 1 },
];
const sourceNames: Record<AngleSource, string> = {
  phone: 'angles by phone',
  scale: 'angles by scale',
  none: 'no angles',
};

const db = (value: number): string => value.toFixed(3).padStart(8);
const row = (label: string, losses: number[], turns: number[], note = ''): void =>
  console.log(
    `  ${label.padEnd(34)} ${db(quantile(losses, 0.5))} ${db(quantile(losses, 0.95))} ${String(quantile(turns, 0.5)).padStart(7)} ${String(quantile(turns, 0.95)).padStart(5)}  ${note}`,
  );

console.log(
  `\n${trials} simulated alignments a line: 1 dB quantisation, ${usualConditions.fadingSdDb} dB fading (correlated over ${usualConditions.fadingCorrelationS} s),`,
);
console.log('half a degree of play, one end aimed on both axes, final loss against the true peak, dB\n');

for (const levelled of [true, false]) {
  console.log(
    levelled
      ? 'Start: up to 3 beam widths to the side, tilt set by a level within 1'
      : 'Start: up to 3 beam widths in any direction',
  );
  console.log(
    `  ${''.padEnd(34)} ${'median'.padStart(8)} ${'95th'.padStart(8)} ${'turns'.padStart(7)} ${'95th'.padStart(5)}`,
  );
  for (const { name, aperture, beamDeg, notchDeg } of antennas) {
    const setup = (source: AngleSource): TrialSetup => ({
      aperture,
      beamDeg,
      source,
      notchDeg,
      playDeg: 0.5,
      startWidths: 3,
      levelled,
    });
    for (const source of ['phone', 'scale', 'none'] as const) {
      const results = Array.from({ length: trials }, (_, seed) => runTrial(setup(source), seed + 1));
      const lost = results.filter((r) => !r.finished).length;
      row(
        `${name}, ${sourceNames[source]}`,
        results.map((r) => r.lossDb),
        results.map((r) => r.turns),
        lost ? `${lost} gave up` : '',
      );
    }
    const habit = Array.from({ length: trials }, (_, seed) => runHabit(setup('none'), seed + 1));
    row(
      `${name}, habit: highest reading`,
      habit.map((r) => r.lossDb),
      habit.map((r) => r.turns),
    );
    for (const strokes of [2, 4]) {
      const sd = peakBoundWidths(strokes, usualConditions.fadingSdDb, usualConditions.fadingCorrelationS, 1);
      console.log(
        `  ${`${name}, Cramer-Rao bound, ${strokes} strokes`.padEnd(34)} ${db(boundLossDb(sd, 0.5))} ${db(boundLossDb(sd, 0.95))}   sd ${(sd * beamDeg).toFixed(2)} deg`,
      );
    }
  }
  console.log();
}

console.log(`What a lobe is called by its level and shape, ${trials} sweeps each, %`);
for (const { name, aperture, beamDeg } of antennas) {
  const share = (around: -1 | 0 | 1, changes: Parameters<typeof callLobe>[3]): string => {
    const called = Array.from({ length: trials }, (_, seed) => callLobe(aperture, beamDeg, around, changes, seed + 1));
    return ((100 * called.filter((d) => d === 'sideLobe').length) / trials).toFixed(1).padStart(6);
  };
  console.log(`  ${name}: side lobes called side lobe ${share(1, {})}`);
  console.log(
    `  ${name}: false alarms on a clear main lobe ${share(0, {})}, behind 10 dB of trees ${share(0, { obstructionDb: 10 })}, crossed polarisation ${share(0, { crossedPolarisation: true })}`,
  );
}

console.log('\nSpeed of the core, median of one, microseconds');
const points: LobePoint[] = Array.from({ length: 300 }, (_, i) => {
  const x = -8 + (16 * i) / 299;
  return { x, levelDbm: Math.round(-48 - Math.min(40, apertureLossDb(x / 6))), pushedFrom: 0 };
});
console.log(
  `  lobe fit over 300 points ${timeUs(() => void fitLobe(points, { width: 6, widthRelativeSd: 0.15 })).toFixed(0)}`,
);
const model = testModel();
const end = {
  groundHeightM: 5,
  mountHeightM: 8,
  model,
  role: 'access' as const,
  conductedDbm: 12,
  cableLossDb: 0,
  polarisation: 'dual' as const,
  azimuthDeg: null,
  tiltDeg: null,
};
const plan: LinkPlan = {
  near: { ...end, position: { latitudeDeg: 33.41, longitudeDeg: -37.84 } },
  far: { ...end, role: 'station', position: { latitudeDeg: 33.43, longitudeDeg: -37.83 } },
  air: { kind: 'pair', centreMHz: 5775, returnMHz: null, widthMHz: 80, protocol: '802.11', errorCorrection: false },
  law: testLaw[0] ?? null,
};
console.log(`  prediction of a link ${timeUs(() => void predictLink(plan)).toFixed(0)}`);
const sheet = {
  role: 'ap' as const,
  networkName: 'a',
  security: 'open' as const,
  passphrase: null,
  band: '5GHz' as const,
  centreMHz: 5775,
  scanMHz: [],
  widthMHz: 80,
  followsWidth: false,
  protocol: '802.11' as const,
  ptpOnly: false,
  bridge: true,
  conductedDbm: 5,
  country: 'XT',
  address: '10.0.0.1',
  prefix: 24,
  gateway: null,
  deviceName: 'a',
  firmware: '1',
  neighbours: [],
  errorCorrection: false,
  txMHz: null,
  rxMHz: null,
};
const pair = {
  near: { sheet, model, mac: null, otherStations: 0 },
  far: { sheet: { ...sheet, role: 'station' as const }, model, mac: null, otherStations: 0 },
  law: testLaw,
};
console.log(`  "Will they pair?" ${timeUs(() => void checkPair(pair)).toFixed(0)}`);
