import { Sequelize } from 'sequelize';
import { initModels } from './models';

interface ConnectOptions {
  /** how many statements run at one time; more wait */
  connections?: number;
  /** called for each statement, for benchmarks */
  count?: () => void;
}

/** A connection that nobody uses is kept so long, ms: to open one takes longer than most of what is asked over it, and people pause between two presses. */
export const keptIdleMs = 600_000;

/** Opens the database. The address carries the password, so it is never logged; nor are statements. */
export function connect(databaseUrl: string, { connections = 8, count }: ConnectOptions = {}): Sequelize {
  const sequelize = new Sequelize(databaseUrl, {
    dialect: 'postgres',
    logging: count ? () => count() : false,
    define: { underscored: true, timestamps: false, freezeTableName: true },
    pool: { max: connections, idle: keptIdleMs },
  });
  initModels(sequelize);
  return sequelize;
}

/** The address of an open database, password and all, for a process of this program's own. */
export function addressOf(sequelize: Sequelize): string {
  const { host, port, database, username, password } = sequelize.config;
  const url = new URL(`postgres://${host ?? ''}:${port ?? ''}/${database}`);
  url.username = username;
  url.password = password ?? '';
  return url.toString();
}
