import { setTimeout } from 'node:timers/promises';
import { DatabaseError, type Sequelize } from 'sequelize';
import { advisoryLock } from './locks';

const known = new WeakMap<Sequelize, Set<string>>();

/** Whoever writes waits behind whoever waits for a partition: no longer than this, ms. Then that one steps back, and tries again. */
const patienceMs = 300;
const pauseMs = 1000;
const lockNotAvailable = '55P03';

/**
 * Makes the partitions of the readings of these months unless they are there, one a month. Readings of a month without one would be refused. Never
 * within another transaction: making a partition waits for everybody who is writing. Two servers that make the same one do it one after the other.
 */
export async function ensureReadingPartitions(sequelize: Sequelize, days: readonly Date[]): Promise<void> {
  const months = known.get(sequelize) ?? new Set();
  known.set(sequelize, months);
  for (const month of new Set(days.map((day) => day.toISOString().slice(0, 7)))) {
    if (months.has(month)) continue;
    while (!(await makePartition(sequelize, month))) await setTimeout(pauseMs);
    months.add(month);
  }
}

/** @returns whether it is there now; false where others are writing */
async function makePartition(sequelize: Sequelize, month: string): Promise<boolean> {
  const name = `reading_of_${month.replace('-', '_')}`;
  const from = `${month}-01T00:00:00Z`;
  const next = new Date(from);
  next.setUTCMonth(next.getUTCMonth() + 1);
  try {
    await sequelize.transaction(async (transaction) => {
      await advisoryLock(sequelize, 'partitions', transaction);
      const [found] = await sequelize.query(`SELECT to_regclass('${name}') AS name`, { transaction });
      if ((found[0] as { name: string | null }).name) return;
      await sequelize.query(`SET LOCAL lock_timeout = ${patienceMs}`, { transaction });
      // Attached, not made in place: that would keep readers out as well.
      await sequelize.query(
        `CREATE TABLE ${name} (LIKE reading INCLUDING DEFAULTS INCLUDING CONSTRAINTS);
         ALTER TABLE reading ATTACH PARTITION ${name} FOR VALUES FROM ('${from}') TO ('${next.toISOString()}')`,
        { transaction },
      );
    });
    return true;
  } catch (error) {
    if (error instanceof DatabaseError && (error.parent as { code?: string }).code === lockNotAvailable) return false;
    throw error;
  }
}

/** The partitions that writing now will need: this month's, and the next one's ahead of time. */
export function ensureComingPartitions(sequelize: Sequelize, now: Date): Promise<void> {
  const ahead = new Date(now);
  ahead.setUTCDate(ahead.getUTCDate() + 7);
  return ensureReadingPartitions(sequelize, [now, ahead]);
}
