import type { End } from '@kivram/core/budget/plan';
import type { Problem } from '@kivram/contract/problem';
import type { ImportResult } from '@kivram/contract/views/job';
import type { TDocumentDefinitions } from 'pdfmake/interfaces';
import type { ScaledPhoto } from '../formats/photo';
import type { TestFile } from '../formats/iperf3';
import type { LevelTable } from '../formats/levelTable';
import type { WaypointFile } from '../formats/places/waypoint';

/**
 * What is done with a file that somebody brings, and what is printed. Files lie on this machine; what is read of them goes into the database, or comes back where it is
 * little. A document is laid out apart as well: it takes a quarter of a second, in which nobody could read a radio.
 */
export interface IntakeTasks {
  terrain: {
    task: { databaseUrl: string; path: string; name: string; sha256: string; epsg?: number };
    result: { fileId: string };
  };
  job: { task: { databaseUrl: string; path: string; choice: ImportChoice; asks: Importer }; result: ImportResult };
  places: { task: { fileName: string; text: string }; result: WaypointFile };
  test: { task: { text: string; clientAt: End }; result: TestFile };
  levels: { task: { text: string }; result: LevelTable };
  photo: { task: { path: string }; result: ScaledPhoto };
  pdf: { task: { definition: TDocumentDefinitions }; result: Uint8Array };
}

/** Who brings a job's file. */
export interface Importer {
  /** who has signed in over the network and leads the job from then on */
  personId: string | null;
  /** jobs that they may replace; null for all */
  mayReplace: string[] | null;
}

/** What becomes of a job that is here already: refuse, replace it, or put a second one beside it. */
export type ImportChoice = 'refuse' | 'replace' | 'copy';

export type IntakeKind = keyof IntakeTasks;
export type IntakeTask<Kind extends IntakeKind> = IntakeTasks[Kind]['task'];
export type IntakeResult<Kind extends IntakeKind> = IntakeTasks[Kind]['result'];

/** What the process that reads says to the one that asked. */
export type IntakeMessage =
  | { type: 'progress'; share: number }
  | { type: 'done'; result: unknown }
  | { type: 'refused'; problem: Problem }
  | { type: 'broke'; message: string; stack?: string };
