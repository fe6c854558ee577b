import type { Model, ModelStatic, Transaction } from 'sequelize';
import { changedMeanwhile, notFound } from '../http/problem';

interface Versioned extends Model {
  id: string;
  version: number;
}

/** Reads a row for changing it, and refuses when somebody else has changed it since this version was shown. */
export async function lockVersion<Row extends Versioned>(
  rows: ModelStatic<Row>,
  id: string,
  version: number,
  what: string,
  transaction: Transaction,
): Promise<Row> {
  const row = await rows.findByPk(id, { transaction, lock: true });
  if (!row) throw notFound(what);
  if (row.version !== version) throw changedMeanwhile(what);
  return row;
}

export interface Difference {
  field: string;
  before: unknown;
  after: unknown;
}

/** What changes would change; fields left out stay. */
export function differing(before: object, changes: object): Difference[] {
  const old = before as Record<string, unknown>;
  return Object.entries(changes)
    .filter(([field, value]) => value !== undefined && JSON.stringify(value) !== JSON.stringify(old[field]))
    .map(([field, value]) => ({ field, before: old[field], after: value }));
}

export function sentence(differences: Difference[]): string {
  const show = (value: unknown): string => (typeof value === 'object' ? 'changed' : String(value));
  return differences.map((d) => `${d.field} ${show(d.before)} to ${show(d.after)}`).join(', ');
}

/** The fields that were given. */
export function defined<T extends object>(values: T): Partial<T> {
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as Partial<T>;
}
