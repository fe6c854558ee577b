import { QueryTypes, type Model, type ModelStatic, type Sequelize, type Transaction } from 'sequelize';
import { ChangeRow } from '../database/models/change';
import { EventRow } from '../database/models/event';
import { JobRow } from '../database/models/job';
import type { EventKind } from '@kivram/contract/entities/event';
import { nameOfField, unitOfField } from '@kivram/contract/fieldWords';
import type { Author } from '../http/author';
import { ApiProblem, changedMeanwhile, notFound } from '../http/apiProblem';
import { roomOf } from './jobRoom';

/** A change in the making: its transaction, and the timeline that it leaves its lines in. */
export interface Change {
  transaction: Transaction;
  crewMemberId: string;
  /** Writes one line into the timeline. */
  note(line: Happening): Promise<void>;
}

export interface Happening {
  linkId?: string | null;
  kind: EventKind;
  summary: string;
  detail?: Record<string, unknown>;
}

const longestSummary = 400;

const listeners = new WeakMap<Sequelize, (jobId: string) => void>();

/** Tells of every change of a job once it is made and kept. One listener to a connection. */
export function onChange(sequelize: Sequelize, listener: (jobId: string) => void): void {
  listeners.set(sequelize, listener);
}

/**
 * Makes one change of a job, all of it or nothing, with its line in the timeline. A change that was made before under the same id is not made again:
 * its first result is given. The result must be plain data.
 */
export async function makeChange<Result>(
  sequelize: Sequelize,
  jobId: string,
  author: Author,
  work: (change: Change) => Promise<Result>,
): Promise<Result> {
  const crewMemberId = author.memberOf(jobId);
  const room = roomOf(sequelize);
  room.refuseFull(jobId, author.madeBy);
  const made = await sequelize.transaction(async (transaction) => {
    // Two requests with one id meet here: the second waits for the first and then finds its result.
    const isNew = await sequelize.query(
      `INSERT INTO change (id, job_id, crew_member_id, made_by) VALUES (:id, :jobId, :crewMemberId, :madeBy)
       ON CONFLICT (id) DO NOTHING RETURNING id`,
      {
        type: QueryTypes.SELECT,
        transaction,
        replacements: { id: author.changeId, jobId, crewMemberId, madeBy: author.madeBy },
      },
    );
    if (!isNew.length) return resultOf<Result>(author, jobId, transaction);
    author.isTold = true;
    const note = async (line: Happening): Promise<void> => {
      await EventRow.create(
        {
          jobId,
          crewMemberId,
          changeId: author.changeId,
          linkId: line.linkId ?? null,
          kind: line.kind,
          summary: line.summary.slice(0, longestSummary),
          detail: line.detail ?? {},
        },
        { transaction },
      );
    };
    const result = await work({ transaction, crewMemberId, note });
    await ChangeRow.update({ result: result ?? null }, { where: { id: author.changeId }, transaction });
    return result;
  });
  listeners.get(sequelize)?.(jobId);
  room.noteChange(jobId);
  return made;
}

/** Makes a change that belongs to no job, once: under an id that was used before, its first result is given. */
export async function makeOnce<Result>(
  sequelize: Sequelize,
  author: Author,
  work: (transaction: Transaction) => Promise<Result>,
): Promise<Result> {
  return sequelize.transaction(async (transaction) => {
    const isNew = await sequelize.query(
      'INSERT INTO change (id, made_by) VALUES (:changeId, :madeBy) ON CONFLICT (id) DO NOTHING RETURNING id',
      {
        type: QueryTypes.SELECT,
        transaction,
        replacements: { changeId: author.changeId, madeBy: author.madeBy },
      },
    );
    if (!isNew.length) return resultOf<Result>(author, null, transaction);
    const result = await work(transaction);
    await ChangeRow.update({ result: result ?? null }, { where: { id: author.changeId }, transaction });
    return result;
  });
}

/** What the same change answered before. Of one from before it was kept who made it, its job must do: in that whoever asks has a part. */
async function resultOf<Result>(
  { changeId, madeBy }: Author,
  jobId: string | null,
  transaction: Transaction,
): Promise<Result> {
  const row = await ChangeRow.findByPk(changeId, { transaction, rejectOnEmpty: true });
  const isSame = row.madeBy === madeBy || (row.madeBy === null && jobId !== null);
  if (row.jobId !== jobId || !isSame) {
    throw new ApiProblem(409, 'Id taken', 'This id belongs to another change. Give each change an id of its own.');
  }
  return row.result as Result;
}

/** Whether a change was made before under this id: one that removed something finds nothing to remove again. */
export async function madeBefore({ changeId, madeBy }: Author): Promise<boolean> {
  return (await ChangeRow.count({ where: { id: changeId, madeBy } })) > 0;
}

interface Versioned extends Model {
  id: string;
  version: number;
}

/**
 * Reads a job for changing what hangs on it, so that two such changes follow each other. What refers to the job may be written meanwhile: every change does that first,
 * so that two which asked for the whole row would wait for each other.
 */
export const lockJob = (jobId: string, transaction: Transaction): Promise<JobRow | null> =>
  JobRow.findByPk(jobId, { transaction, lock: transaction.LOCK.NO_KEY_UPDATE });

/**
 * Reads a row for changing it, and refuses when somebody else has changed it since this version was shown.
 * @param inJob the job that it must belong to, where somebody names it: of another job's nothing is told
 */
export async function lockVersion<Row extends Versioned>(
  rows: ModelStatic<Row>,
  id: string,
  version: number,
  what: string,
  transaction: Transaction,
  inJob?: string,
): Promise<Row> {
  // What refers to it may be written meanwhile: see `lockJob`.
  const row = await rows.findByPk(id, { transaction, lock: transaction.LOCK.NO_KEY_UPDATE });
  if (!row || (inJob !== undefined && row.get('jobId') !== inJob)) throw notFound(what);
  if (row.version !== version) throw changedMeanwhile(what, row.get({ plain: true }));
  return row;
}

/** The job that a row belongs to. @throws ApiProblem when there is no such row */
export async function jobOf<Row extends Model & { jobId: string }>(
  rows: ModelStatic<Row>,
  id: string,
  what: string,
): Promise<string> {
  const row = await rows.findByPk(id, { attributes: ['jobId'] });
  if (!row) throw notFound(what);
  return row.jobId;
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
    .map(([field, value]) => ({ field, before: old[field] ?? null, after: value as unknown }));
}

/** Differences in words, as in "power 11 to 8 dBm". */
export function sentence(differences: readonly Difference[]): string {
  const show = (value: unknown): string =>
    value === null ? 'none' : typeof value === 'boolean' ? (value ? 'on' : 'off') : String(value);
  return differences
    .map(({ field, before, after }) => {
      const [words, unit] = [nameOfField(field), unitOfField(field)];
      const plain = typeof before !== 'object' || before === null;
      return plain ? `${words} ${show(before)} to ${show(after)}${unit}` : words;
    })
    .join(', ');
}

/** The fields that were given. */
export function defined<T extends object>(values: T): Partial<T> {
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as Partial<T>;
}
