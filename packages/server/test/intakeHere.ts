import { open } from 'node:fs/promises';
import type { Sequelize } from 'sequelize';
import type { Intake, Watching } from '../src/intake/intake';
import { pathIn, readers, type Read } from '../src/intake/readers';
import type { IntakeKind, IntakeResult, IntakeTask } from '../src/intake/task';

/**
 * Reads files in this process, by what reads them in one of their own: to start one takes longer than to read most of the tests' files. That they are read apart is tested by
 * `intake.test.ts` and `terrainApi.test.ts`.
 */
export class IntakeHere implements Intake {
  constructor(private readonly sequelize: Sequelize) {}

  async run<Kind extends IntakeKind>(
    kind: Kind,
    task: IntakeTask<Kind>,
    { signal, onProgress = () => undefined }: Watching = {},
  ): Promise<IntakeResult<Kind>> {
    signal?.throwIfAborted();
    const read: Read<Kind> = await readers[kind](false);
    const path = pathIn(task);
    const file = path === undefined ? undefined : await open(path);
    try {
      return await read(task, { file, withDatabase: (_databaseUrl, work) => work(this.sequelize), onProgress });
    } finally {
      await file?.close();
    }
  }

  stop(): void {
    // What is read here ends with the request that brought it.
  }
}
