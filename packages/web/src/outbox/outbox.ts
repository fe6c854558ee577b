import type { Problem } from '@kivram/contract/problem';
import { routes } from '@kivram/contract/routes';
import type { Route } from '@kivram/contract/routes/route';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import { call, ProblemError, sendFile } from '../api';

export type RouteName = keyof typeof routes;

/** A change that waits on this device until the server can be reached. */
export interface Waiting {
  /** the id that the change goes under, however often it is sent: it is made once */
  id: string;
  /** in the order in which they were made */
  order: number;
  at: string;
  /** who made it; nobody else's session sends it. Null at the computer itself */
  by: string | null;
  route: RouteName;
  params: Record<string, string>;
  query: string;
  body: Record<string, unknown> | undefined;
  file: Blob | undefined;
  /** what the server said against it, with the entry as it is there where somebody else was faster */
  problem: Problem | null;
}

interface Shelf extends DBSchema {
  waiting: { key: string; value: Waiting };
}

/** Where changes are kept while they wait: in the browser's own database, or where there is none. */
export interface Keeper {
  all(): Promise<Waiting[]>;
  put(change: Waiting): Promise<void>;
  remove(id: string): Promise<void>;
}

/** A change that the server has made, with what it answered. */
export interface Made extends Pick<Waiting, 'route' | 'params'> {
  answer: unknown;
}

/** How a change is sent. */
export type Send = (change: Waiting) => Promise<unknown>;

/** The browser's database, opened when it is first needed. */
class BrowserKeeper implements Keeper {
  private opened: Promise<IDBPDatabase<Shelf>> | undefined;

  private shelf(): Promise<IDBPDatabase<Shelf>> {
    this.opened ??= openDB<Shelf>('kivram-outbox', 1, {
      upgrade: (db) => void db.createObjectStore('waiting', { keyPath: 'id' }),
    });
    return this.opened;
  }

  async all(): Promise<Waiting[]> {
    return (await this.shelf()).getAll('waiting');
  }

  async put(change: Waiting): Promise<void> {
    await (await this.shelf()).put('waiting', change);
  }

  async remove(id: string): Promise<void> {
    await (await this.shelf()).delete('waiting', id);
  }
}

const isSilence = (error: unknown): boolean => error instanceof ProblemError && error.problem.status === 0;

/** Whether a server that answered so may answer otherwise in a while. */
const passes = (status: number): boolean => status === 0 || status === 401 || status === 429 || status >= 500;

/**
 * Changes that were made while the server could not be reached. Each is sent under its own id, in order, when it can be: one that had arrived before its answer was lost is not made twice.
 * What the server refuses stays here with its reason until somebody decides. What comes after it is sent all the same, but for changes of the same entry.
 */
export class Outbox {
  private list: readonly Waiting[] = [];
  private readonly listeners = new Set<() => void>();
  private sending: Promise<readonly Made[]> | undefined;
  private read: Promise<void> | undefined;

  constructor(
    private readonly keeper: Keeper,
    private readonly send: Send,
  ) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    void this.ready();
    return () => this.listeners.delete(listener);
  };

  all = (): readonly Waiting[] => this.list;

  /** @throws where this browser can keep nothing */
  async add(change: Omit<Waiting, 'order' | 'at' | 'problem'>): Promise<void> {
    await this.ready();
    const order = 1 + Math.max(0, ...this.list.map((other) => other.order));
    const waiting = { ...change, order, at: new Date().toISOString(), problem: null };
    await this.keeper.put(waiting);
    this.change([...this.list.filter((other) => other.id !== change.id), waiting]);
  }

  /** Gives a change up. */
  async drop(id: string): Promise<void> {
    await this.keeper.remove(id);
    this.change(this.list.filter((other) => other.id !== id));
  }

  /** Sends a refused change again: over what somebody else saved meanwhile, where that is why. @param id it goes under from now on, for what it says is another thing */
  async insist(change: Waiting, id: string): Promise<void> {
    const version = change.problem?.current?.version;
    const body = typeof version === 'number' ? { ...change.body, version } : change.body;
    await this.keeper.put({ ...change, id, body, problem: null });
    await this.keeper.remove(change.id);
    await this.reread();
  }

  /** Sends what waits. @returns what was made; several at once are one */
  flush(by: string | null): Promise<readonly Made[]> {
    this.sending ??= this.sendAll(by).finally(() => (this.sending = undefined));
    return this.sending;
  }

  private async sendAll(by: string | null): Promise<readonly Made[]> {
    await this.reread();
    const made: Made[] = [];
    for (const { id } of this.list) {
      const change = this.list.find((other) => other.id === id);
      if (!change || change.problem || change.by !== by || this.waitsForAnother(change)) continue;
      try {
        const answer = await this.send(change);
        made.push({ ...change, answer });
        await this.follow(change, answer);
        await this.drop(id);
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        if (passes(error.problem.status)) break;
        const refused = { ...change, problem: error.problem };
        await this.keeper.put(refused);
        this.change(this.list.map((other) => (other.id === id ? refused : other)));
      }
    }
    return made;
  }

  /** A change of an entry that an earlier one was refused for is not made before somebody decides on that. */
  private waitsForAnother(change: Waiting): boolean {
    return this.list.some((other) => other.problem && other.order < change.order && sameEntry(other, change));
  }

  /** Whoever changed an entry twice meant the second change for what the first had made of it; not for what others made of it since, which the answer tells of too. */
  private async follow(made: Waiting, answer: unknown): Promise<void> {
    const { version } = Object(answer) as { version?: unknown };
    if (version !== Number(made.body?.version) + 1) return;
    for (const later of this.list) {
      if (later.order <= made.order || !sameEntry(made, later) || later.body?.version !== made.body?.version) continue;
      const moved = { ...later, body: { ...later.body, version } };
      await this.keeper.put(moved);
      this.change(this.list.map((other) => (other.id === moved.id ? moved : other)));
    }
  }

  private ready(): Promise<void> {
    this.read ??= this.reread();
    return this.read;
  }

  /** Another tab of this browser may have kept, or sent, something. */
  private async reread(): Promise<void> {
    try {
      this.change(await this.keeper.all());
    } catch {
      // A browser that keeps nothing has nothing waiting.
    }
  }

  private change(list: readonly Waiting[]): void {
    this.list = [...list].sort((a, b) => a.order - b.order);
    for (const listener of this.listeners) listener();
  }
}

function sameEntry(a: Waiting, b: Waiting): boolean {
  return (
    routes[a.route].path === routes[b.route].path &&
    JSON.stringify(a.params) === JSON.stringify(b.params) &&
    a.body?.version !== undefined
  );
}

function sendWaiting({ id, route, params, query, body, file }: Waiting): Promise<unknown> {
  const to = routes[route] as Route<unknown, unknown>;
  return file ? sendFile(to as Route<undefined, unknown>, file, query, params, id) : call(to, params, body, query, id);
}

export const outbox = new Outbox(new BrowserKeeper(), sendWaiting);

/** Said where a change waits: no failure, but not made yet either. */
export class KeptError extends Error {
  constructor(what: string) {
    super(`Kept on this device: ${what} is sent when the server answers again. It stands under "waiting" until then.`);
  }
}

/**
 * Sends a change, or keeps it where the server does not answer and it may wait.
 * @throws KeptError when it waits; ProblemError when it was refused, or may not wait
 */
export async function sendOrKeep<Answer>(
  change: Pick<Waiting, 'id' | 'route' | 'params' | 'query' | 'body' | 'file' | 'by'>,
  send: () => Promise<Answer>,
): Promise<Answer> {
  const { later } = routes[change.route] as Route<unknown, unknown>;
  try {
    return await send();
  } catch (error) {
    if (!later || !isSilence(error)) throw error;
    await outbox.add(change);
    throw new KeptError(later);
  }
}
