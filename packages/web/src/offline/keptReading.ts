import type { PersistedClient, Persister } from '@tanstack/react-query-persist-client';
import type { Query } from '@tanstack/react-query';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

/** What was read last is what is needed on a roof; more would fill the phone. */
const mostKept = 150;

/** Written at most this often, ms. */
const pauseMs = 2000;

interface Shelf extends DBSchema {
  reading: { key: 'client'; value: PersistedClient };
}

/** Keeps what was read in the browser's own database. A browser without one keeps nothing, and works. */
export class KeptReading implements Persister {
  private opened: Promise<IDBPDatabase<Shelf>> | undefined;
  private next: PersistedClient | undefined;
  private writing: Promise<void> | undefined;

  persistClient = (client: PersistedClient): void => {
    this.next = client;
    this.writing ??= new Promise((resolve) => setTimeout(resolve, pauseMs)).then(() => this.write());
  };

  restoreClient = async (): Promise<PersistedClient | undefined> => {
    try {
      return await (await this.shelf()).get('reading', 'client');
    } catch {
      return undefined;
    }
  };

  removeClient = async (): Promise<void> => {
    this.next = undefined;
    try {
      await (await this.shelf()).delete('reading', 'client');
    } catch {
      // Nothing is kept.
    }
  };

  private async write(): Promise<void> {
    const client = this.next;
    this.next = undefined;
    this.writing = undefined;
    if (!client) return;
    try {
      await (await this.shelf()).put('reading', newestOf(client), 'client');
    } catch {
      // The phone is full, or keeps nothing for this page.
    }
  }

  private shelf(): Promise<IDBPDatabase<Shelf>> {
    this.opened ??= openDB<Shelf>('kivram-reading', 1, { upgrade: (db) => void db.createObjectStore('reading') });
    return this.opened;
  }
}

/** The part of what was read that is kept: the newest. */
export function newestOf({ clientState, ...client }: PersistedClient): PersistedClient {
  const queries = [...clientState.queries].sort((a, b) => b.state.dataUpdatedAt - a.state.dataUpdatedAt);
  // What was answered stays an answer, though asking again has failed since.
  const answered = { status: 'success' as const, error: null, fetchFailureReason: null, fetchFailureCount: 0 };
  const kept = queries.slice(0, mostKept).map((query) => ({ ...query, state: { ...query.state, ...answered } }));
  return { ...client, clientState: { mutations: [], queries: kept } };
}

/** What means nothing later, or is only a passing word. */
const passing = new Set<unknown>(['health', 'find']);

/** Whether there is an answer that is worth keeping, also where asking again has failed. */
export function isKept({ queryKey, state }: Pick<Query, 'queryKey' | 'state'>): boolean {
  return state.data !== undefined && !passing.has(queryKey[0]);
}

/** Of this browser. */
export const keptReading = new KeptReading();
