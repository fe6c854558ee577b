import connectPgSimple from 'connect-pg-simple';
import { createHash } from 'node:crypto';
import type { Request, RequestHandler } from 'express';
import session from 'express-session';
import { Pool } from 'pg';
import type { Sequelize } from 'sequelize';
import { keptIdleMs } from '../database/connection';
import { vault } from '../secrets/vault';

/** At the computer itself a browser remembers who was chosen for long; over the network one signs in again now and then. */
const keptDays = 400;
const signedInDays = 90;
const dayMs = 86_400_000;

/** What a session remembers. */
declare module 'express-session' {
  interface SessionData {
    /** at the computer itself: who works on which job */
    crewMemberIds: Record<string, string>;
    /** over the network: who signed in, how, and from what; an identifier to show the session by, which opens nothing */
    shownId: string;
    personId: string;
    by: 'invitation' | 'password';
    /** ms since 1970 */
    begunAt: number;
    device: string;
  }
}

export interface Sessions {
  handler: RequestHandler;
  /** connections of their own, which no transaction of a request waits for */
  pool: Pool;
  /** Notes that a session is in use; to the minute is enough. */
  used(request: Request): Promise<void>;
  close(): Promise<void>;
}

/**
 * Sessions kept in the database, so that they outlive the server and several servers share them. A cookie of this origin only, which scripts cannot read; signed with what
 * is derived from the key outside of the database, so that nobody signs in with a copy of that. They are read only where something may change, or where somebody must be known.
 */
export function sessions(sequelize: Sequelize): Sessions {
  const { host, port, database, username, password } = sequelize.config;
  const pool = new Pool({
    host,
    port: Number(port),
    database,
    user: username,
    password: password ?? undefined,
    max: 2,
    idleTimeoutMillis: keptIdleMs,
  });
  // A connection that is lost while nobody uses it is no error of anybody's; the next request gets another.
  pool.on('error', () => undefined);
  const Store = connectPgSimple(session);
  const store = new Store({ pool, tableName: 'session', disableTouch: true, pruneSessionInterval: false });
  const secret = vault().derive('session cookies');
  const handler = session({
    // Own jobs and the demo answer at one address, on two ports: a cookie knows no ports.
    name: `kivram-${createHash('sha256').update(secret).digest('hex').slice(0, 8)}`,
    secret,
    store,
    resave: false,
    saveUninitialized: false,
    cookie: { httpOnly: true, sameSite: 'strict', secure: 'auto', maxAge: keptDays * dayMs },
  });
  return {
    handler,
    pool,
    used: async ({ sessionID }) => {
      await pool.query(`UPDATE session SET used_at = now() WHERE sid = $1 AND used_at < now() - interval '1 minute'`, [
        sessionID,
      ]);
    },
    close: async () => {
      store.close();
      await pool.end();
    },
  };
}

/** Begins a new session for somebody who has just shown who they are: what a browser carried before opens nothing. */
export async function beginSession(
  request: Request,
  data: Required<Pick<session.SessionData, 'shownId' | 'personId' | 'by' | 'begunAt' | 'device'>>,
): Promise<void> {
  await new Promise<void>((resolve, reject) =>
    request.session.regenerate((error) => (error ? reject(error as Error) : resolve())),
  );
  Object.assign(request.session, data);
  request.session.cookie.maxAge = signedInDays * dayMs;
  await keepSession(request);
}

/** What every change of a session over the network must carry. It is derived, so that it stands nowhere. */
export const sessionToken = ({ sessionID }: Request): string => vault().digest(`token of ${sessionID}`);

/** Keeps what a session remembers before that is answered: left to itself it is kept afterwards, and nobody is told where it cannot be. */
export function keepSession({ session }: Request): Promise<void> {
  return new Promise((resolve, reject) => session.save((error) => (error ? reject(error as Error) : resolve())));
}
