import type { Sequelize } from 'sequelize';

const known = new WeakMap<Sequelize, Set<string>>();

/** Makes the month's partition of the readings unless it is there. Readings of a month without one would be refused. */
export async function ensureReadingPartition(sequelize: Sequelize, at: Date): Promise<void> {
  const months = known.get(sequelize) ?? new Set();
  known.set(sequelize, months);
  const month = at.toISOString().slice(0, 7);
  if (months.has(month)) return;
  const from = `${month}-01T00:00:00Z`;
  const next = new Date(from);
  next.setUTCMonth(next.getUTCMonth() + 1);
  await sequelize.query(
    `CREATE TABLE IF NOT EXISTS reading_${month.replace('-', '_')} PARTITION OF reading
     FOR VALUES FROM ('${from}') TO ('${next.toISOString()}')`,
  );
  months.add(month);
}
