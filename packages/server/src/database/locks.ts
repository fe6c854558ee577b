import type { Sequelize, Transaction } from 'sequelize';
import { keptIdleMs, openDatabase } from './connection';

/** Work that only one server of a database does at a time, each under a number that no other program uses for a lock of its own there. */
const numbers = { migrations: 471_100, partitions: 471_101, firstData: 471_102, jobNames: 471_103 };
type Work = keyof typeof numbers;

/** Waits until nobody else does this work; held until the transaction ends, however it ends. */
export async function advisoryLock(sequelize: Sequelize, work: Work, transaction?: Transaction): Promise<void> {
  await sequelize.query(`SELECT pg_advisory_xact_lock(${numbers[work]})`, { transaction });
}

/** Does work that has transactions of its own while no other server does it. The lock has a connection of its own, and goes with it. */
export async function whileLocked<T>(databaseUrl: string, work: Work, task: () => Promise<T>): Promise<T> {
  const holder = openDatabase(databaseUrl, { pool: { max: 1, idle: keptIdleMs } });
  try {
    return await holder.transaction(async (transaction) => {
      await advisoryLock(holder, work, transaction);
      return task();
    });
  } finally {
    await holder.close();
  }
}
