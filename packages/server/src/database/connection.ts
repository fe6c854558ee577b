import { Sequelize } from 'sequelize';
import { Umzug, SequelizeStorage } from 'umzug';
import * as first from './migrations/0001-first';
import * as terrain from './migrations/0002-terrain';
import { initModels } from './models';

/** Opens the database. The address carries the password, so it is never logged. */
export function connect(databaseUrl: string): Sequelize {
  const sequelize = new Sequelize(databaseUrl, {
    dialect: 'postgres',
    logging: false,
    define: { underscored: true, timestamps: false, freezeTableName: true },
    pool: { max: 8 },
  });
  initModels(sequelize);
  return sequelize;
}

/** Brings the tables up to date. */
export async function migrate(sequelize: Sequelize): Promise<void> {
  const umzug = new Umzug({
    migrations: [
      { name: '0001-first', ...withContext(first) },
      { name: '0002-terrain', ...withContext(terrain) },
    ],
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize, tableName: 'migration' }),
    logger: undefined,
  });
  await umzug.up();
}

function withContext(migration: typeof first) {
  return {
    up: ({ context }: { context: Parameters<typeof first.up>[0] }) => migration.up(context),
    down: ({ context }: { context: Parameters<typeof first.down>[0] }) => migration.down(context),
  };
}
