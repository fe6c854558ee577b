import type { Sequelize } from 'sequelize';

const known = new WeakMap<Sequelize, Set<string>>();

/**
 * Makes the partitions of the readings of these months unless they are there, one a month. Readings of a month without one would be refused. Never
 * within another transaction: making a partition waits for everybody who reads or writes the table.
 */
export async function ensureReadingPartitions(sequelize: Sequelize, days: readonly Date[]): Promise<void> {
  const months = known.get(sequelize) ?? new Set();
  known.set(sequelize, months);
  for (const month of new Set(days.map((day) => day.toISOString().slice(0, 7)))) {
    if (months.has(month)) continue;
    const from = `${month}-01T00:00:00Z`;
    const next = new Date(from);
    next.setUTCMonth(next.getUTCMonth() + 1);
    await sequelize.query(
      `CREATE TABLE IF NOT EXISTS reading_of_${month.replace('-', '_')} PARTITION OF reading
       FOR VALUES FROM ('${from}') TO ('${next.toISOString()}')`,
    );
    months.add(month);
  }
}

/** The partitions that writing now will need: this month's, and the next one's ahead of time. */
export function ensureComingPartitions(sequelize: Sequelize, now: Date): Promise<void> {
  const ahead = new Date(now);
  ahead.setUTCDate(ahead.getUTCDate() + 7);
  return ensureReadingPartitions(sequelize, [now, ahead]);
}
