import pg from 'pg';
import { Sequelize, type Options } from 'sequelize';
import { initModels } from './models';

interface ConnectOptions {
  /** how many statements run at one time; more wait */
  connections?: number;
  /** called for each statement, for benchmarks */
  count?: () => void;
}

/** A connection that nobody uses is kept so long, ms: to open one takes longer than most of what is asked over it, and people pause between two presses. */
export const keptIdleMs = 600_000;

/**
 * A connection that may break at any moment. Sequelize begins to hear of that a moment after the connection is there; a database that dies in this moment would take
 * the server with it, since nobody hears the error.
 */
class Client extends pg.Client {
  constructor(config?: pg.ClientConfig) {
    super(config);
    // Sequelize's own mark of a connection that is not used any more.
    this.on('error', () => Object.assign(this, { _invalid: true }));
  }
}

/** Opens connections to a database without its models: for whoever needs some apart from the rest. Statements are never logged. */
export function openDatabase(databaseUrl: string, options: Options): Sequelize {
  // Sequelize's documentation has the version, its types have not.
  const all: Options & { databaseVersion: string } = {
    logging: false,
    ...options,
    dialect: 'postgres',
    dialectModule: { Client, types: pg.types },
    // What it may count on. It would ask for it over a connection of its own, which takes as long as all that a small change asks.
    databaseVersion: '13.0.0',
  };
  return new Sequelize(databaseUrl, all);
}

/** Opens the database. The address carries the password, so it is never logged; nor are statements. */
export function connect(databaseUrl: string, { connections = 8, count }: ConnectOptions = {}): Sequelize {
  const sequelize = openDatabase(databaseUrl, {
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
