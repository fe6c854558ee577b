import 'reflect-metadata';
import { open } from 'node:fs/promises';
import { giveRightsUp, plainUser } from '../apart/rights';
import { pathIn, readers, type Read, type Surroundings } from './readers';
import type { IntakeKind, IntakeMessage, IntakeTask } from './task';

/** Whoever is not root has no rights to give up, and loads what he needs when he needs it. */
const wholly = plainUser() !== undefined;

/** The database is loaded when it is needed, and left when the work is done. */
const withDatabase: Surroundings['withDatabase'] = async (databaseUrl, work) => {
  const { connect } = await loadDatabase();
  const sequelize = connect(databaseUrl, { connections: 2 });
  try {
    return await work(sequelize);
  } finally {
    await sequelize.close();
  }
};
const loadDatabase = () => import('../database/connection');
const loadProblem = () => import('../http/problem');

/** @returns once it is said: a long word takes its time */
function say(message: IntakeMessage): Promise<void> {
  return new Promise((resolve) => process.send?.(message, () => resolve()));
}

/** Reads one file, says what came of it, and ends. What the file says is looked at as a user who owns nothing. */
async function read(kind: IntakeKind, task: IntakeTask<IntakeKind>): Promise<void> {
  try {
    const reader = (await readers[kind](wholly)) as Read<IntakeKind>;
    const path = pathIn(task);
    const file = path === undefined ? undefined : await open(path);
    // What is laid out is ours, and needs the fonts that lie beside this program.
    if (wholly && kind !== 'pdf') {
      await loadDatabase();
      await loadProblem();
      giveRightsUp();
    }
    const surroundings = {
      file,
      withDatabase,
      onProgress: (share: number) => void say({ type: 'progress', share }),
    };
    await say({ type: 'done', result: await reader(task, surroundings) });
  } catch (error) {
    const { problemOf } = await loadProblem();
    const problem = problemOf(error);
    const { message, stack } = error instanceof Error ? error : new Error(String(error));
    await say(problem.status === 500 ? { type: 'broke', message, stack } : { type: 'refused', problem });
  }
  // Nothing keeps this process any more.
  process.disconnect();
}

// The program of the process that reads one file: told what to read, it says how far it is and what came of it. It also ends when who asked is gone.
process.once('disconnect', () => process.exit(1));
process.once('message', ({ kind, task }: { kind: IntakeKind; task: IntakeTask<IntakeKind> }) => void read(kind, task));
// What reads it is loaded while the file is on its way, or before it has come. What cannot be loaded is told of when it is needed.
const likely = process.argv[2] as IntakeKind | undefined;
if (likely) readers[likely](wholly).catch(() => undefined);
