import { open, readFile } from 'node:fs/promises';
import type { Sequelize } from 'sequelize';
import type { IntakeKind, IntakeResult, IntakeTask } from './task';

/** What a reader works with. */
export interface Surroundings {
  /** does a piece of work with a database */
  withDatabase<Result>(databaseUrl: string, work: (sequelize: Sequelize) => Promise<Result>): Promise<Result>;
  onProgress(share: number): void;
}

export type Read<Kind extends IntakeKind> = (
  task: IntakeTask<Kind>,
  surroundings: Surroundings,
) => Promise<IntakeResult<Kind>> | IntakeResult<Kind>;

/** What reads each kind of file. It is loaded when it is needed: to load what reads a job takes longer than to read most photos. */
export const readers: { [Kind in IntakeKind]: () => Promise<Read<Kind>> } = {
  places: async () => {
    const { readWaypoints } = await import('../formats/places');
    return ({ fileName, text }) => readWaypoints(fileName, text);
  },
  pdf: async () => {
    const { renderPdf } = await import('../reports/pdf');
    return ({ definition }) => renderPdf(definition);
  },
  photo: async () => {
    const { scalePhoto } = await import('../formats/photo');
    return async ({ path }) => scalePhoto(await readFile(path));
  },
  job: async () => {
    const { importJob } = await import('../formats/jobDocument/import');
    return ({ databaseUrl, path, choice, asks }, { withDatabase }) =>
      withDatabase(databaseUrl, (sequelize) => importJob(sequelize, path, choice, asks));
  },
  terrain: async () => {
    const { importTerrain } = await import('../terrain/importer');
    return ({ databaseUrl, path, name, sha256, epsg }, { withDatabase, onProgress }) =>
      withDatabase(databaseUrl, async (sequelize) => {
        const handle = await open(path);
        try {
          const { size: bytes } = await handle.stat();
          const read = async (offset: number, length: number): Promise<Uint8Array> => {
            const buffer = Buffer.alloc(Math.max(0, Math.min(length, bytes - offset)));
            const { bytesRead } = await handle.read(buffer, 0, buffer.length, offset);
            return buffer.subarray(0, bytesRead);
          };
          const file = await importTerrain(sequelize, { name, bytes, read }, { sha256, epsg, onProgress });
          return { fileId: file.id };
        } finally {
          await handle.close();
        }
      });
  },
};
