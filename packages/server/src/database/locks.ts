import type { Sequelize, Transaction } from 'sequelize';

/** Work that only one server of a database does at a time, each under a number that no other program uses for a lock of its own there. */
const numbers = { migrations: 471_100, partitions: 471_101, demo: 471_102 };

/** Waits until nobody else does this work; held until the transaction ends, however it ends. */
export async function advisoryLock(
  sequelize: Sequelize,
  work: keyof typeof numbers,
  transaction?: Transaction,
): Promise<void> {
  await sequelize.query(`SELECT pg_advisory_xact_lock(${numbers[work]})`, { transaction });
}
