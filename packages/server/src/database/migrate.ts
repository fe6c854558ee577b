import { QueryTypes, type Sequelize } from 'sequelize';
import { keptIdleMs, openDatabase } from './connection';
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
import * as siege from './migrations/0017-siege';
import * as permits from './migrations/0018-permits';
import * as chosenLicences from './migrations/0019-chosen-licences';
import * as origins from './migrations/0020-origins';
import * as news from './migrations/0021-news';

const migrations = [
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
  { name: '0017-siege', ...withContext(siege) },
  { name: '0018-permits', ...withContext(permits) },
  { name: '0019-chosen-licences', ...withContext(chosenLicences) },
  { name: '0020-origins', ...withContext(origins) },
  { name: '0021-news', ...withContext(news) },
];

/** Brings the tables up to date, all steps or none; of several servers that start at once one does it and the others wait. */
export async function migrate(databaseUrl: string): Promise<void> {
  // One connection, so that everything happens in its one transaction.
  const sequelize = openDatabase(databaseUrl, { pool: { max: 1, idle: keptIdleMs } });
  try {
    await sequelize.query('BEGIN');
    await advisoryLock(sequelize, 'migrations');
    if (!(await isUpToDate(sequelize))) await up(sequelize);
    await sequelize.query('COMMIT');
  } catch (error) {
    await sequelize.query('ROLLBACK').catch(() => undefined);
    throw error;
  } finally {
    await sequelize.close();
  }
}

async function up(sequelize: Sequelize): Promise<void> {
  // It brings a whole command line along: what has nothing to do does not wait for it.
  const { SequelizeStorage, Umzug } = await import('umzug');
  const umzug = new Umzug({
    migrations,
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize, tableName: 'migration' }),
    logger: undefined,
  });
  await umzug.up();
}

/** Whether each step was taken, by the library's own table of them. */
async function isUpToDate(sequelize: Sequelize): Promise<boolean> {
  const [there] = await sequelize.query<{ taken: string | null }>("SELECT to_regclass('migration') AS taken", {
    type: QueryTypes.SELECT,
  });
  if (!there?.taken) return false;
  const taken = await sequelize.query<{ name: string }>('SELECT name FROM migration', { type: QueryTypes.SELECT });
  return migrations.every(({ name }) => taken.some((step) => step.name === name));
}

function withContext(migration: typeof first) {
  return {
    up: ({ context }: { context: Parameters<typeof first.up>[0] }) => migration.up(context),
    down: ({ context }: { context: Parameters<typeof first.down>[0] }) => migration.down(context),
  };
}
