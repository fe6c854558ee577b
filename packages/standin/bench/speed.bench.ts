import { fitLobe, type LobePoint } from '@kivram/core/aiming/lobeFit';
import { apertureLossDb } from '@kivram/core/antenna/mainLobe';
import { rankGear } from '@kivram/core/budget/gearRanking';
import type { LinkPlan, PathTerrain } from '@kivram/core/budget/plan';
import { groundOf, predictLink, predictOver } from '@kivram/core/budget/prediction';
import { checkPair } from '@kivram/core/pairing/check';
import type { Obstacle } from '@kivram/core/path/obstacle';
import { testLaw, testModel } from '../test/models';
import { timeUs } from './statistics.bench';

console.log('Speed of the core, median of one');
const line = (label: string, us: number, note = ''): void =>
  console.log(`${label.padEnd(76)}${us.toFixed(1).padStart(10)} us  ${note}`.trimEnd());
const points: LobePoint[] = Array.from({ length: 300 }, (_, i) => {
  const x = -8 + (16 * i) / 299;
  return { x, levelDbm: Math.round(-48 - Math.min(40, apertureLossDb(x / 6))), pushedFrom: 0, agoS: 0 };
});
line(
  '  lobe fit over 300 points',
  timeUs(() => void fitLobe(points, { width: 6, widthRelativeSd: 0.15 })),
);
const model = testModel();
const end = {
  groundHeightM: 5,
  mountHeightM: 8,
  model,
  role: 'access' as const,
  conductedDbm: 12,
  cableLossDb: 0,
  cable: null,
  aimOffDeg: 0,
  interferenceDb: 0,
  polarisation: 'dual' as const,
  azimuthDeg: null,
  tiltDeg: null,
};
const plan: LinkPlan = {
  near: { ...end, position: { latitudeDeg: 33.41, longitudeDeg: -37.84 } },
  far: { ...end, role: 'station', position: { latitudeDeg: 33.43, longitudeDeg: -37.83 } },
  air: { kind: 'pair', centreMHz: 5775, returnMHz: null, widthMHz: 80, protocol: '802.11', errorCorrection: false },
  law: testLaw[0] ?? null,
  day: '2026-06-15',
};
const asked: LinkPlan = {
  ...plan,
  need: { nearToFarMbps: 120, farToNearMbps: 60, othersLoad: 0 },
  near: { ...plan.near, cable: { kind: 'foam10', lengthM: 3, connectors: 2 }, aimOffDeg: 0.5, interferenceDb: 2 },
};
/** Ground as a survey gives it, with a wood on it that loses some decibels. */
const distanceM = groundOf(asked).line.distanceM;
const groundM = Array.from({ length: 201 }, (_, i) => 5 - 4 * Math.sin((Math.PI * i) / 200) + Math.sin(i / 3));
const bare = { profile: { distanceM, groundM }, obstacles: [], year: 2026 };
const wood: Obstacle = {
  id: 'w',
  name: 'wood',
  kind: 'trees',
  footprint: [
    { latitudeDeg: 33.42, longitudeDeg: -37.836 },
    { latitudeDeg: 33.42, longitudeDeg: -37.834 },
  ],
  widthM: 20,
  heightM: 9,
  growthMPerYear: 0.4,
  measuredYear: 2024,
  confidence: 'measured',
};
const wooded = { ...bare, obstacles: [wood] };
const ground = groundOf({ ...asked, terrain: wooded });
let dbm = 0;
/** Another power each time, so that nothing of it was computed before. */
const anew = (): LinkPlan => ({ ...asked, near: { ...asked.near, conductedDbm: (dbm = (dbm + 0.01) % 20) } });
/** Another height each time, so that every loss of the path is computed anew. */
const risen = (terrain: PathTerrain): LinkPlan => {
  const next = anew();
  return { ...next, terrain, near: { ...next.near, mountHeightM: 8 + dbm / 10 } };
};
const predictions = {
  'power, width, gear or rain moved: over a path analysed before': () => predictOver(anew(), ground),
  'heights moved: every loss anew over 201 points of bare ground': () => predictLink(risen(bare)),
  'heights moved: every loss anew over 201 points with a wood': () => predictLink(risen(wooded)),
};
console.log('  prediction of a link both ways, all terms in (asked for: 20000 a second)');
for (const [name, predict] of Object.entries(predictions)) {
  const us = timeUs(() => void predict());
  line(`    ${name}`, us, `${(1e6 / us).toFixed(0)} a second ${us > 50 ? '!' : ''}`);
}
const unseenUs = timeUs(() => void predictLink(risen({ ...wooded })));
line('    beside it, over ground never seen before: its surface is built first', unseenUs);
const catalogue = Array.from({ length: 200 }, (_, i) => ({ ...model, id: `m${i}`, antennaGainDbi: 8 + (i % 25) }));
const rankUs = timeUs(
  () =>
    void rankGear(
      asked,
      catalogue.map((m) => ({ ...m })),
      { wantedDb: 10 },
    ),
);
line(
  `  ranking of ${catalogue.length} models never seen before`,
  rankUs,
  `asked for: 50 ms ${rankUs > 50_000 ? '!' : ''}`,
);
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
line(
  '  "Will they pair?"',
  timeUs(() => void checkPair(pair)),
);
