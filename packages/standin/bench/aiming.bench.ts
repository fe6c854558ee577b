import { usualConditions } from '../src/world/aimWorld';
import type { Antenna } from '../src/world/antenna';
import { runHabit, runTrial, type TrialSetup } from '../src/world/trial';
import { boundLossDb, peakBoundWidths } from './bound.bench';
import { conditions, families, type Condition } from './conditions';
import { Pool } from './pool';
import { isCounted, lobeColumns, type LobeColumn } from './sideLobes.bench';
import { quantile } from './statistics.bench';

// How well simulated installers aim who follow the guide, and who follow the habit, under each condition.
//   npm run bench -- aiming            60 alignments a line: about twelve minutes on two cores
//   npm run bench -- aiming short      8 a line: two minutes
//   npm run bench -- aiming 90 bolts   90 a line, only lines with this word

/** Ways of aiming: by what tells the angle, or by habit. */
type Way = Condition['sources'][number] | 'habit';

interface Piece {
  setup: TrialSetup;
  way: Way;
  seeds: number[];
}

/** A column of the table of side lobes, for one antenna. */
interface LobePiece {
  antenna: Antenna;
  column: LobeColumn;
  seeds: number[];
}

interface Outcome {
  lossDb: number;
  turns: number;
  seconds: number;
  finished: boolean;
  /** it ended more than 3 dB off, and nothing said so */
  isSilent: boolean;
}

/** What is asked for: median and 95th percentile of the loss, dB, and the share that may be wrong without a word. */
const asked: Record<Way, readonly [medianDb: number, mostDb: number]> = {
  phone: [0.3, 1],
  scale: [0.3, 1],
  none: [0.5, 2],
  habit: [Infinity, Infinity],
};
const silentShare = 0.01;
/** Without angles losses spread three times as far: of twice as many the median is known to about 0.05 dB. */
const timesTrials: Record<Way, number> = { phone: 1, scale: 1, none: 2, habit: 1 };
const seedsAPiece = 10;

const pool = new Pool<Piece | LobePiece, Outcome[] | boolean[]>(import.meta.url, (piece) =>
  'column' in piece
    ? piece.seeds.map((seed) => isCounted(piece.antenna, piece.column, seed))
    : piece.seeds.map(aimed(piece)),
);
if (!pool.isWorker) {
  await printTable(process.argv.slice(2));
  pool.end();
}

async function printTable(args: string[]): Promise<void> {
  const isShort = args.includes('short');
  const trials = isShort ? 8 : Number(args.find((arg) => /^\d+$/.test(arg)) ?? 60);
  const word = args.find((arg) => !/^\d+$/.test(arg) && arg !== 'short');
  const timesOf = (way: Way): number => (isShort ? 1 : timesTrials[way]);
  const seedsOf = (times: number): number[] => Array.from({ length: times * trials }, (_, i) => i + 1);
  const lines = conditions
    .filter(({ name }) => !word || name.includes(word))
    .flatMap(({ name, setup, sources }) => [...sources, 'habit' as const].map((way) => ({ name, setup, way })));

  console.log(
    `${trials} simulated alignments a line, ${timesOf('none') * trials} without angles; one end, both axes; loss against the true peak, dB; ! misses what is asked for`,
  );
  console.log(`${''.padEnd(50)} angle   median    95th  late   silent  turns 95th  seconds`);
  const outcomes = lines.map(({ setup, way }) =>
    outcomesOf({ ...setup, source: way === 'habit' ? 'none' : way }, way, seedsOf(timesOf(way))),
  );
  let lastName = '';
  for (const [i, { name, way }] of lines.entries()) {
    console.log(`${(name === lastName ? '' : name).padEnd(50)} ${rowOf(way, (await outcomes[i]) ?? [])}`);
    lastName = name;
  }
  if (word && word !== 'lobes') return;
  printBound();
  await printSideLobes(seedsOf(1));
}

/** How an alignment of a line goes, by its seed. */
function aimed({ setup, way }: Piece): (seed: number) => Outcome {
  return (seed) => {
    if (way === 'habit') return { ...runHabit(setup, seed), finished: true, isSilent: false };
    const { lossDb, turns, seconds, finished, isWarned } = runTrial(setup, seed);
    return { lossDb, turns, seconds, finished, isSilent: finished && lossDb > 3 && !isWarned };
  };
}

async function outcomesOf(setup: TrialSetup, way: Way, seeds: number[]): Promise<Outcome[]> {
  const pieces: Promise<Outcome[] | boolean[]>[] = [];
  for (let i = 0; i < seeds.length; i += seedsAPiece)
    pieces.push(pool.do({ setup, way, seeds: seeds.slice(i, i + seedsAPiece) }));
  return (await Promise.all(pieces)).flat() as Outcome[];
}

function rowOf(way: Way, results: Outcome[]): string {
  const at = (share: number, of: (r: Outcome) => number): number => quantile(results.map(of), share);
  const part = (is: (r: Outcome) => boolean): number => results.filter(is).length / results.length;
  const loss = ({ lossDb }: Outcome): number => lossDb;
  const [medianDb, mostDb] = asked[way];
  const misses = at(0.5, loss) > medianDb || at(0.95, loss) > mostDb || part((r) => r.isSilent) >= silentShare;
  const db = (value: number): string => value.toFixed(2).padStart(7);
  const percent = (share: number): string => `${(100 * share).toFixed(1)} %`.padStart(8);
  const whole = (value: number, width: number): string => value.toFixed(0).padStart(width);
  return [
    way.padEnd(6),
    db(at(0.5, loss)),
    db(at(0.95, loss)),
    percent(part((r) => !r.finished)),
    percent(part((r) => r.isSilent)),
    whole(
      at(0.5, (r) => r.turns),
      5,
    ),
    whole(
      at(0.95, (r) => r.turns),
      4,
    ),
    whole(
      at(0.5, (r) => r.seconds),
      8,
    ),
    misses ? '!' : '',
  ].join(' ');
}

function printBound(): void {
  const { fading, meter } = usualConditions;
  if (fading.kind !== 'gaussian') return;
  console.log('\nLeast that any estimate from so many strokes can lose (Cramer-Rao), usual conditions, both axes, dB');
  for (const strokes of [2, 4, 8]) {
    const sd = peakBoundWidths(strokes, fading.sdDb, fading.correlationS, meter.quantumDb);
    console.log(
      `  ${strokes} strokes: median ${boundLossDb(sd, 0.5).toFixed(3)}, 95th ${boundLossDb(sd, 0.95).toFixed(3)}`,
    );
  }
}

async function printSideLobes(seeds: number[]): Promise<void> {
  console.log('\nSide lobes, the sheet up to 20 % wrong');
  console.log(`${''.padEnd(15)} one swept and called    guided, left on it      called on the main lobe`);
  console.log(`${''.padEnd(15)}   sideways  upwards     sideways  upwards      clear    trees  crossed`);
  const lines = families.map((antenna) => lobeColumns.map((column) => pool.do({ antenna, column, seeds })));
  for (const [i, line] of lines.entries()) {
    const shares = (await Promise.all(line)).map((counted) => (100 * counted.filter(Boolean).length) / seeds.length);
    const [oneAzimuth, oneTilt, leftAzimuth, leftTilt, ...falsely] = shares.map((p) => `${p.toFixed(1)} %`.padStart(9));
    console.log(
      `${(families[i] ?? '').padEnd(15)} ${oneAzimuth} ${oneTilt}    ${leftAzimuth} ${leftTilt}  ${falsely.join(' ')}`,
    );
  }
}
