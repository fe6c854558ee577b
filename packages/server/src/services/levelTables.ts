import type { LevelTableResult } from '@kivram/contract/views/level';
import { ReadingRow } from '../database/models/reading';
import type { StoredReading } from '../database/readings';
import type { LevelTable, TableLevel } from '../formats/levelTable';
import { ApiProblem } from '../http/apiProblem';
import type { AlignmentClock } from './alignmentClock';

/** A line may be so much ahead of this computer's clock, seconds: clocks differ. */
const aheadS = 2;
/** An angle of the phone counts for a level that was read so soon before or after it, ms. */
const sameMomentMs = 500;
const dayS = 86_400;

/** Who hears whom, in which alignment. */
interface Hearing {
  alignmentId: string;
  radioId: string;
  peerId: string;
}

/** What of a table is new, with its times as those of the alignment. */
export interface PlacedTable {
  readings: StoredReading[];
  /** when the clock of the table showed zero, ms since 1970; for the next table of the same radio. Null where it told times of day with their dates */
  zeroMs: number | null;
  result: LevelTableResult;
}

/**
 * Puts a table to its times in an alignment. Times of the day or seconds are told by some clock of the radio: its last line is taken for as old as is said, and
 * once that is known, the next table goes by it.
 * @throws ApiProblem where the table holds no level
 */
export async function placeTable(
  { levels, refused, unused }: LevelTable,
  hearing: Hearing,
  clock: AlignmentClock,
  lastAgoS: number | undefined,
  knownZeroMs: number | null,
): Promise<PlacedTable> {
  if (!levels.length) {
    const first = refused[0];
    throw new ApiProblem(
      422,
      'No level',
      first ? `Line ${first.line}: ${first.reason}.` : 'The table has no line with a time and a level.',
    );
  }
  const nowMs = clock.now().getTime();
  const times = secondsOf(levels);
  const isMoments = levels.every(({ at }) => 'ms' in at);
  const latestS = times.reduce((most, s) => Math.max(most, s), -Infinity);
  const known = lastAgoS === undefined ? (isMoments ? 0 : knownZeroMs) : null;
  const zeroMs = known ?? nowMs - 1000 * (latestS + (lastAgoS ?? 0));
  const stored = await storedOf(hearing);
  const result: LevelTableResult = { taken: 0, known: 0, refused: [...refused], unused: unused.filter(Boolean) };
  const readings: StoredReading[] = [];
  levels.forEach((level, i) => {
    const atMs = Math.round(zeroMs + 1000 * (times[i] ?? 0));
    const tS = clock.secondsOn(atMs);
    if (tS < 0 || atMs > nowMs + 1000 * aheadS) {
      result.refused.push({
        line: level.line,
        reason: tS < 0 ? 'it lies before this alignment began' : 'it lies in the future',
      });
      return;
    }
    const freeMs = stored.free(atMs, level.rslDbm);
    if (freeMs === null) return void result.known++;
    const phone = stored.angleAt(atMs);
    readings.push({
      radioId: hearing.radioId,
      peerId: hearing.peerId,
      at: new Date(freeMs).toISOString(),
      tS,
      rslDbm: level.rslDbm,
      chainsDbm: level.chainsDbm,
      phoneAzimuthDeg: level.azimuthDeg ?? phone?.phoneAzimuthDeg ?? null,
      phoneTiltDeg: level.tiltDeg ?? phone?.phoneTiltDeg ?? null,
    });
    result.taken++;
  });
  return { readings, zeroMs: isMoments ? null : zeroMs, result };
}

/** Times as seconds of one clock, going on over midnight. */
function secondsOf(levels: readonly TableLevel[]): number[] {
  let days = 0;
  let before = -Infinity;
  return levels.map(({ at }) => {
    if ('ms' in at) return at.ms / 1000;
    if (at.seconds < before - dayS / 2) days++;
    before = at.seconds;
    return at.seconds + days * dayS;
  });
}

/** What is stored of an end already. */
async function storedOf({ alignmentId, radioId, peerId }: Hearing) {
  const rows = await ReadingRow.findAll({
    where: { alignmentId, radioId, peerId },
    attributes: ['at', 'rslDbm', 'isRepeat', 'phoneAzimuthDeg', 'phoneTiltDeg'],
    order: [['at', 'ASC']],
    raw: true,
  });
  const taken = new Map(rows.map((row) => [row.at.getTime(), row]));
  const phone = rows.filter((row) => row.phoneAzimuthDeg !== null || row.phoneTiltDeg !== null);
  return {
    /** The moment or one right after it that nothing stands at; null where this level stands there already. */
    free(atMs: number, rslDbm: number | null): number | null {
      for (let ms = atMs; ; ms++) {
        const row = taken.get(ms);
        if (!row) {
          taken.set(ms, { rslDbm, isRepeat: false } as ReadingRow);
          return ms;
        }
        if (!row.isRepeat && row.rslDbm === rslDbm) return null;
      }
    },
    angleAt(atMs: number): ReadingRow | undefined {
      let [low, high] = [0, phone.length];
      while (low < high) {
        const middle = (low + high) >> 1;
        if ((phone[middle]?.at.getTime() ?? 0) < atMs) low = middle + 1;
        else high = middle;
      }
      const off = (row: ReadingRow | undefined): number => (row ? Math.abs(row.at.getTime() - atMs) : Infinity);
      const nearest = off(phone[low - 1]) < off(phone[low]) ? phone[low - 1] : phone[low];
      return off(nearest) <= sameMomentMs ? nearest : undefined;
    },
  };
}
