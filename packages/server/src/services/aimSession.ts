import { evidenceOfWays } from '@kivram/core/aiming/levelWay';
import { ends, otherEnd, type End } from '@kivram/core/budget/plan';
import type { LevelTableBody, TypedLevelBody } from '@kivram/contract/requests/level';
import type { AimEvent } from '@kivram/contract/views/alignment';
import type { LevelTableResult } from '@kivram/contract/views/level';
import type { AlignmentRow } from '../database/models/alignment';
import type { StoredReading } from '../database/readings';
import type { LevelTable } from '../formats/levelTable';
import { ApiProblem } from '../http/apiProblem';
import { AimCrew } from './aimCrew';
import type { AlignmentClock } from './alignmentClock';
import type { RadioEnds } from './alignmentViews';
import { placeTable } from './levelTables';
import type { SessionSources } from './sessionSources';

/** Somebody who watches an alignment. */
export interface AimViewer {
  /** what comes from now on is shown */
  begin?(): void;
  show(event: AimEvent): void;
  /** nothing more comes from here; who still wants to watch asks again, here or elsewhere */
  leave(): void;
}

/** One alignment that this server process runs. */
export interface AimSession {
  id: string;
  linkId: string;
  jobId: string;
  clock: AlignmentClock;
  radios: RadioEnds;
  sources: SessionSources;
  crew: AimCrew;
  /** ids of levels that were typed: one that is sent twice is one */
  typed: Set<string>;
  /** the clocks of tables that were pasted: when they showed zero, ms since 1970 */
  tableZeroMs: Record<End, number | null>;
  viewers: Set<AimViewer>;
  /** when somebody last watched or tapped */
  usedAtMs: number;
  /** the reading under way */
  taking: Promise<void> | null;
  /** taps that are not shown yet */
  taps: Set<Promise<unknown>>;
}

export function newSession(
  { id, linkId }: AlignmentRow,
  jobId: string,
  clock: AlignmentClock,
  radios: RadioEnds,
  sources: SessionSources,
): AimSession {
  return {
    id,
    linkId,
    jobId,
    clock,
    radios,
    sources,
    crew: new AimCrew(),
    typed: new Set(),
    tableZeroMs: { near: null, far: null },
    viewers: new Set(),
    usedAtMs: performance.now(),
    taking: null,
    taps: new Set(),
  };
}

/** Takes a level that somebody typed, once however often it is sent. @throws ApiProblem where none is typed at that end */
export function takeTyped(session: AimSession, { id, end, rslDbm }: TypedLevelBody): void {
  if (session.typed.has(id)) return;
  if (!session.sources.tell(end, rslDbm))
    throw new ApiProblem(409, 'Not typed', `The level at the ${end} end is not typed: choose that for it first.`);
  session.typed.add(id);
  session.usedAtMs = performance.now();
}

/** Lines of a table that are stored by one statement. */
const tableLinesAtOnce = 2000;

/**
 * Takes a table of levels with their times.
 * @param table what was read in it
 * @param store stores some of them, and says how many: none where the alignment is over
 * @returns null where it is over
 */
export async function takeTable(
  session: AimSession,
  { end, lastAgoS }: LevelTableBody,
  table: LevelTable,
  store: (readings: StoredReading[]) => Promise<number>,
): Promise<LevelTableResult | null> {
  const { id, radios, clock, tableZeroMs } = session;
  const hearing = { alignmentId: id, radioId: radios[end], peerId: radios[otherEnd(end)] };
  const placed = await placeTable(table, hearing, clock, lastAgoS, tableZeroMs[end]);
  for (let i = 0; i < placed.readings.length; i += tableLinesAtOnce) {
    if (!(await store(placed.readings.slice(i, i + tableLinesAtOnce)))) return null;
  }
  tableZeroMs[end] = placed.zeroMs;
  const last = placed.readings.at(-1);
  if (last) session.sources.hold(end, last.rslDbm);
  session.usedAtMs = performance.now();
  return placed.result;
}

/** Keeps where the levels come from now, and how they are known: no better than the worst of them. */
export async function noteWays(row: AlignmentRow, sources: SessionSources, tS: number): Promise<void> {
  const levelsFrom = [...row.levelsFrom];
  for (const end of ends) {
    const way = sources.wayOf(end);
    if (levelsFrom.filter((from) => from.end === end).at(-1)?.way !== way) levelsFrom.push({ tS, end, way });
  }
  if (levelsFrom.length === row.levelsFrom.length) return;
  await row.update({ levelsFrom, evidenceKind: evidenceOfWays(levelsFrom.map(({ way }) => way)) });
}
