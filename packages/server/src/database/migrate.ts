import { Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import { advisoryLock } from './locks';
import * as first from './migrations/0001-first';
import * as terrain from './migrations/0002-terrain';
import * as airs from './migrations/0003-airs';
import * as holding from './migrations/0004-holding';
import * as proof from './migrations/0005-proof';
import * as ownJobs from './migrations/0006-own-jobs';
import * as people from './migrations/0007-people';
import * as visits from './migrations/0008-visits';
import * as logins from './migrations/0009-logins';
import * as endStops from './migrations/0010-end-stops';
import * as levels from './migrations/0011-levels';
import * as weather from './migrations/0012-weather';
import * as law from './migrations/0013-law';
import * as alternatives from './migrations/0014-alternatives';
import * as needs from './migrations/0015-needs';
import * as cables from './migrations/0016-cables';

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
      { name: '0004-holding', ...withContext(holding) },
      { name: '0005-proof', ...withContext(proof) },
      { name: '0006-own-jobs', ...withContext(ownJobs) },
      { name: '0007-people', ...withContext(people) },
      { name: '0008-visits', ...withContext(visits) },
      { name: '0009-logins', ...withContext(logins) },
      { name: '0010-end-stops', ...withContext(endStops) },
      { name: '0011-levels', ...withContext(levels) },
      { name: '0012-weather', ...withContext(weather) },
      { name: '0013-law', ...withContext(law) },
      { name: '0014-alternatives', ...withContext(alternatives) },
      { name: '0015-needs', ...withContext(needs) },
      { name: '0016-cables', ...withContext(cables) },
    ],
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize, tableName: 'migration' }),
    logger: undefined,
  });
  try {
    await sequelize.query('BEGIN');
    await advisoryLock(sequelize, 'migrations');
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
