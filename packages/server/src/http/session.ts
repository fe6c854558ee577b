import connectPgSimple from 'connect-pg-simple';
import { randomBytes } from 'node:crypto';
import session from 'express-session';
import type { RequestHandler } from 'express';
import { Pool } from 'pg';
import { QueryTypes, type Sequelize } from 'sequelize';

const keptDays = 400;

/**
 * Sessions kept in the database, so that they outlive the server and several servers share them. A cookie of this origin only, which scripts cannot read.
 * They are read only where something may change: everything else answers without.
 */
export async function sessions(sequelize: Sequelize): Promise<{ handler: RequestHandler; close(): Promise<void> }> {
  const { host, port, database, username, password } = sequelize.config;
  const pool = new Pool({
    host,
    port: Number(port),
    database,
    user: username,
    password: password ?? undefined,
    max: 2,
  });
  // A connection that is lost while nobody uses it is no error of anybody's; the next request gets another.
  pool.on('error', () => undefined);
  const Store = connectPgSimple(session);
  const store = new Store({ pool, tableName: 'session', disableTouch: true, pruneSessionInterval: false });
  const handler = session({
    name: 'kivram',
    secret: await secretOf(sequelize),
    store,
    resave: false,
    saveUninitialized: false,
    cookie: { httpOnly: true, sameSite: 'strict', maxAge: keptDays * 86_400_000 },
  });
  return {
    handler,
    close: async () => {
      store.close();
      await pool.end();
    },
  };
}

/** Made once, kept in the database: whoever can read that can read the sessions anyway. */
async function secretOf(sequelize: Sequelize): Promise<string> {
  await sequelize.query(
    `INSERT INTO setting (name, value) VALUES ('session secret', :value) ON CONFLICT (name) DO NOTHING`,
    { replacements: { value: randomBytes(32).toString('base64url') } },
  );
  const [row] = await sequelize.query<{ value: string }>(`SELECT value FROM setting WHERE name = 'session secret'`, {
    type: QueryTypes.SELECT,
  });
  return row?.value ?? '';
}
