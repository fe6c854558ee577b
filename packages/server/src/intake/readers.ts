import type { FileHandle } from 'node:fs/promises';
import type { Sequelize } from 'sequelize';
import type { IntakeKind, IntakeResult, IntakeTask } from './task';

/** What a reader works with. */
export interface Surroundings {
  /** the file that the task names, open */
  file?: FileHandle;
  /** does a piece of work with a database */
  withDatabase<Result>(databaseUrl: string, work: (sequelize: Sequelize) => Promise<Result>): Promise<Result>;
  onProgress(share: number): void;
}

export type Read<Kind extends IntakeKind> = (
  task: IntakeTask<Kind>,
  surroundings: Surroundings,
) => Promise<IntakeResult<Kind>> | IntakeResult<Kind>;

/** @param wholly with all that some files need: afterwards nothing can be loaded any more */
type Load<Kind extends IntakeKind> = (wholly: boolean) => Promise<Read<Kind>>;

/** What reads each kind of file. It is loaded when it is needed: to load what reads a job takes longer than to read most photos. */
export const readers: { [Kind in IntakeKind]: Load<Kind> } = {
  places: async () => {
    const { readWaypoints } = await import('../formats/places');
    return ({ fileName, text }) => readWaypoints(fileName, text);
  },
  test: async () => {
    const { readIperf3 } = await import('../formats/iperf3');
    return ({ text, clientAt }) => readIperf3(text, clientAt);
  },
  levels: async () => {
    const { readLevelTable } = await import('../formats/levelTable');
    return ({ text }) => readLevelTable(text);
  },
  pdf: async () => {
    const { renderPdf } = await import('../reports/pdf');
    return ({ definition }) => renderPdf(definition);
  },
  photo: async () => {
    const { loadSharp, scalePhoto } = await import('../formats/photo');
    await loadSharp();
    return async (_task, { file }) => scalePhoto(await opened(file).readFile());
  },
  job: async (wholly) => {
    const { importJob } = await import('../formats/jobDocument/import');
    const { loadSharp } = await import('../formats/photo');
    if (wholly) await loadSharp();
    return ({ databaseUrl, choice, asks }, { file, withDatabase }) =>
      withDatabase(databaseUrl, (sequelize) => importJob(sequelize, opened(file), choice, asks));
  },
  terrain: async (wholly) => {
    const { importTerrain } = await import('../terrain/importer');
    const { loadDecoders } = await import('../formats/terrain/geoTiff');
    if (wholly) await loadDecoders();
    return ({ databaseUrl, name, sha256, epsg }, { file, withDatabase, onProgress }) =>
      withDatabase(databaseUrl, async (sequelize) => {
        const handle = opened(file);
        const { size: bytes } = await handle.stat();
        const read = async (offset: number, length: number): Promise<Uint8Array> => {
          const buffer = Buffer.alloc(Math.max(0, Math.min(length, bytes - offset)));
          const { bytesRead } = await handle.read(buffer, 0, buffer.length, offset);
          return buffer.subarray(0, bytesRead);
        };
        const { id: fileId } = await importTerrain(sequelize, { name, bytes, read }, { sha256, epsg, onProgress });
        return { fileId };
      });
  },
};

function opened(file: FileHandle | undefined): FileHandle {
  if (!file) throw new Error('there is no file to read');
  return file;
}

/** The path of a file that a task names. */
export const pathIn = (task: IntakeTask<IntakeKind>): string | undefined => ('path' in task ? task.path : undefined);
