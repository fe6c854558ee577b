import 'reflect-metadata';
import { open, readFile } from 'node:fs/promises';
import type { Sequelize } from 'sequelize';
import { connect } from '../database/connection';
import { importJob } from '../formats/jobDocument';
import { readWaypoints } from '../formats/places';
import { problemOf } from '../http/problem';
import { importTerrain } from '../terrain/importer';
import type { IntakeKind, IntakeMessage, IntakeResult, IntakeTask } from './task';

/** The program of the process that reads one file: told what to read, it says how far it is and what came of it, and ends. It also ends when who asked is gone. */
const readers: { [Kind in IntakeKind]: (task: IntakeTask<Kind>) => Promise<IntakeResult<Kind>> | IntakeResult<Kind> } =
  {
    places: ({ fileName, text }) => readWaypoints(fileName, text),
    // Loaded when it is needed: most files are read without.
    pdf: async ({ definition }) => (await import('../reports/pdf')).renderPdf(definition),
    photo: async ({ path }) => (await import('../formats/photo')).scalePhoto(await readFile(path)),
    job: ({ databaseUrl, path, choice, asks }) =>
      withDatabase(databaseUrl, (sequelize) => importJob(sequelize, path, choice, asks)),
    terrain: ({ databaseUrl, path, name, sha256, epsg }) =>
      withDatabase(databaseUrl, async (sequelize) => {
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
      }),
  };

async function withDatabase<T>(databaseUrl: string, work: (sequelize: Sequelize) => Promise<T>): Promise<T> {
  const sequelize = connect(databaseUrl, { connections: 2 });
  try {
    return await work(sequelize);
  } finally {
    await sequelize.close();
  }
}

function say(message: IntakeMessage): void {
  process.send?.(message);
}

process.once('disconnect', () => process.exit(1));
process.once('message', ({ kind, task }: { kind: IntakeKind; task: IntakeTask<IntakeKind> }) => {
  const read = readers[kind] as (task: IntakeTask<IntakeKind>) => unknown;
  void (async () => read(task))()
    .then(
      (result) => say({ type: 'done', result }),
      (error: unknown) => {
        const problem = problemOf(error);
        if (problem.status !== 500) return say({ type: 'refused', problem });
        const { message, stack } = error instanceof Error ? error : new Error(String(error));
        say({ type: 'broke', message, stack });
      },
    )
    // What was said is on its way; then nothing keeps this process.
    .finally(() => process.disconnect());
});
