import { Sequelize } from 'sequelize';
import { Umzug, SequelizeStorage } from 'umzug';
import * as first from './migrations/0001-first';
import * as terrain from './migrations/0002-terrain';
import * as airs from './migrations/0003-airs';
import { initModels } from './models';

/** Opens the database. The address carries the password, so it is never logged; nor are statements, unless a benchmark counts them. */
export function connect(databaseUrl: string, count?: () => void): Sequelize {
  const sequelize = new Sequelize(databaseUrl, {
    dialect: 'postgres',
    logging: count ? () => count() : false,
    define: { underscored: true, timestamps: false, freezeTableName: true },
    pool: { max: 8 },
  });
  initModels(sequelize);
  return sequelize;
}

/** Any number that no other program uses for a lock of its own in this database. */
const migrationLock = 471_100;

/** Brings the tables up to date, all steps or none; of several servers that start at once one does it and the others wait. */
export async function migrate(databaseUrl: string): Promise<void> {
  // One connection, so that everything happens in its one transaction.
  const sequelize = new Sequelize(databaseUrl, {
    dialect: 'postgres',
    logging: false,
    pool: { max: 1, idle: 600_000 },
  });
  const umzug = new Umzug({
    migrations: [
      { name: '0001-first', ...withContext(first) },
      { name: '0002-terrain', ...withContext(terrain) },
      { name: '0003-airs', ...withContext(airs) },
    ],
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize, tableName: 'migration' }),
    logger: undefined,
  });
  try {
    await sequelize.query('BEGIN');
    await sequelize.query(`SELECT pg_advisory_xact_lock(${migrationLock})`);
    await umzug.up();
    await sequelize.query('COMMIT');
  } catch (error) {
    await sequelize.query('ROLLBACK').catch(() => undefined);
    throw error;
  } finally {
    await sequelize.close();
  }
}

function withContext(migration: typeof first) {
  return {
    up: ({ context }: { context: Parameters<typeof first.up>[0] }) => migration.up(context),
    down: ({ context }: { context: Parameters<typeof first.down>[0] }) => migration.down(context),
  };
}
