import 'reflect-metadata';
import { open, readFile } from 'node:fs/promises';
import type { Sequelize } from 'sequelize';
import type { IntakeKind, IntakeMessage, IntakeResult, IntakeTask } from './task';

type Read<Kind extends IntakeKind> = (task: IntakeTask<Kind>) => Promise<IntakeResult<Kind>> | IntakeResult<Kind>;

/** What reads each kind of file. It is loaded when it is needed: to load what reads a job takes longer than to read most photos. */
const readers: { [Kind in IntakeKind]: () => Promise<Read<Kind>> } = {
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
    const [{ importJob }, database] = [await import('../formats/jobDocument/import'), await withDatabase()];
    return ({ databaseUrl, path, choice, asks }) =>
      database(databaseUrl, (sequelize) => importJob(sequelize, path, choice, asks));
  },
  terrain: async () => {
    const [{ importTerrain }, database] = [await import('../terrain/importer'), await withDatabase()];
    return ({ databaseUrl, path, name, sha256, epsg }) =>
      database(databaseUrl, async (sequelize) => {
        const handle = await open(path);
        try {
          const { size: bytes } = await handle.stat();
          const read = async (offset: number, length: number): Promise<Uint8Array> => {
            const buffer = Buffer.alloc(Math.max(0, Math.min(length, bytes - offset)));
            const { bytesRead } = await handle.read(buffer, 0, buffer.length, offset);
            return buffer.subarray(0, bytesRead);
          };
          const onProgress = (share: number): void => say({ type: 'progress', share });
          const file = await importTerrain(sequelize, { name, bytes, read }, { sha256, epsg, onProgress });
          return { fileId: file.id };
        } finally {
          await handle.close();
        }
      });
  },
};

/** Loads what speaks to the database. @returns what does a piece of work with it, and leaves it */
async function withDatabase(): Promise<
  <T>(databaseUrl: string, work: (sequelize: Sequelize) => Promise<T>) => Promise<T>
> {
  const { connect } = await import('../database/connection');
  return async (databaseUrl, work) => {
    const sequelize = connect(databaseUrl, { connections: 2 });
    try {
      return await work(sequelize);
    } finally {
      await sequelize.close();
    }
  };
}

function say(message: IntakeMessage): void {
  process.send?.(message);
}

/** Reads one file, says what came of it, and ends. */
async function read(kind: IntakeKind, task: IntakeTask<IntakeKind>): Promise<void> {
  try {
    const reader = (await readers[kind]()) as Read<IntakeKind>;
    say({ type: 'done', result: await reader(task) });
  } catch (error) {
    const { problemOf } = await import('../http/problem');
    const problem = problemOf(error);
    const { message, stack } = error instanceof Error ? error : new Error(String(error));
    say(problem.status === 500 ? { type: 'broke', message, stack } : { type: 'refused', problem });
  }
  // What was said is on its way; then nothing keeps this process.
  process.disconnect();
}

// The program of the process that reads one file: told what to read, it says how far it is and what came of it. It also ends when who asked is gone.
process.once('disconnect', () => process.exit(1));
process.once('message', ({ kind, task }: { kind: IntakeKind; task: IntakeTask<IntakeKind> }) => void read(kind, task));
// Whoever brings one file often brings another of its kind: what reads it is ready then. What cannot be loaded is told of when it is needed.
const likely = process.argv[2] as IntakeKind | undefined;
if (likely) readers[likely]().catch(() => undefined);
