import { JobDocument, check, type ImportResult } from '@kivram/contract';
import type { Model as Spec } from '@kivram/core';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import {
  AimMarkRow,
  AirRow,
  AlignmentRow,
  BenchRunRow,
  CrewMemberRow,
  EventRow,
  JobRow,
  KnownDeviceRow,
  LinkRow,
  NetworkRow,
  ObstacleRow,
  PlaceRow,
  RadioRow,
  SheetRow,
  ThroughputTestRow,
} from '../../database/models';
import { ensureReadingPartitions } from '../../database/readingPartition';
import { storeReadings, type StoredReading } from '../../database/readings';
import { ApiProblem } from '../../http/problem';
import { keepModel } from '../../services/gear';
import { upgradeDocument } from './upgrade';

/**
 * Brings a job document in, all of it or nothing. With `replace`, an existing job of the same id is replaced; passphrases that the document leaves out
 * stay as they were. Documents of version 1, from before airs, are brought up to date first.
 */
export async function importJob(sequelize: Sequelize, plain: unknown, replace: boolean): Promise<ImportResult> {
  const checked = check(JobDocument, upgradeDocument(plain));
  if (checked.errors) {
    const shown = checked.errors.slice(0, 20);
    throw new ApiProblem(
      422,
      'Not a valid job document',
      shown.map((e) => `${e.field}: ${e.message}`).join('. '),
      shown,
    );
  }
  const document = checked.value;
  const warnings: string[] = [];
  // Made before, outside the transaction, which would otherwise wait for whoever reads the table.
  await ensureReadingPartitions(sequelize, daysOf(document));
  await sequelize.transaction(async (transaction) => {
    const existing = await JobRow.findByPk(document.job.id, { transaction, lock: true });
    if (existing && !replace) {
      throw new ApiProblem(
        409,
        'Job exists',
        `The job "${existing.name}" is here already. Import again and choose to replace it; its present state is lost then.`,
      );
    }
    const secrets = existing
      ? await knownPassphrases(sequelize, document.job.id, transaction)
      : new Map<string, string>();
    if (existing) await existing.destroy({ transaction });
    await insert(sequelize, document, secrets, warnings, transaction);
  });
  return { jobId: document.job.id, links: document.links.length, warnings };
}

type MarkRecord = Pick<AimMarkRow, 'id' | 'radioId' | 'peerId' | 'tS' | 'kind' | 'direction'>;

function daysOf({ alignments }: JobDocument): Date[] {
  const days = alignments.flatMap((a) => (a.readings as StoredReading[]).map((r) => String(r.at).slice(0, 10)));
  return [...new Set(days)].map((day) => new Date(day)).filter((day) => !Number.isNaN(day.getTime()));
}

async function insert(
  sequelize: Sequelize,
  document: JobDocument,
  secrets: Map<string, string>,
  warnings: string[],
  transaction: Transaction,
): Promise<void> {
  const jobId = document.job.id;
  const into = { transaction };
  const inJob = <T extends object>(rows: T[]) => rows.map((row) => ({ ...row, jobId }));
  const revisions = await keepModels(document, transaction);
  await JobRow.create({ ...document.job }, into);
  await CrewMemberRow.bulkCreate(inJob(document.crew), into);
  await PlaceRow.bulkCreate(inJob(document.places), into);
  await ObstacleRow.bulkCreate(inJob(document.obstacles ?? []), into);
  await AirRow.bulkCreate(inJob(document.airs), into);
  await RadioRow.bulkCreate(
    inJob(document.radios).map((r) => ({
      ...r,
      modelRevision: revisions.get(`${r.modelId} ${r.modelRevision}`) ?? r.modelRevision,
      mountedAt: date(r.mountedAt),
    })),
    into,
  );
  if (document.network) {
    const { id } = await NetworkRow.create({ ...document.network, jobId }, into);
    await KnownDeviceRow.bulkCreate(
      document.devices.map((d) => ({ ...d, networkId: id })),
      into,
    );
  }
  await LinkRow.bulkCreate(inJob(document.links), into);
  let missing = 0;
  await SheetRow.bulkCreate(
    document.sheets.map(({ sheet, ...record }) => {
      const passphrase = sheet.passphrase ?? secrets.get(`${record.radioId} ${record.revision}`) ?? null;
      if (!passphrase && sheet.security !== 'open') missing++;
      return { ...sheet, ...record, passphrase, savedAt: new Date(record.savedAt) };
    }),
    into,
  );
  if (missing)
    warnings.push(
      `${missing} settings sheet${missing > 1 ? 's have' : ' has'} no passphrase: the file was exported without secrets.`,
    );
  await BenchRunRow.bulkCreate(document.benchRuns.map((r) => ({ ...r, at: new Date(r.at) })) as never[], into);
  for (const { readings, marks, ...record } of document.alignments) {
    await AlignmentRow.create(
      { ...record, startedAt: new Date(record.startedAt), finishedAt: date(record.finishedAt) } as never,
      into,
    );
    await storeReadings(sequelize, record.id, readings as StoredReading[], transaction);
    await AimMarkRow.bulkCreate(
      (marks as MarkRecord[]).map((m) => ({ ...m, alignmentId: record.id })),
      into,
    );
  }
  await ThroughputTestRow.bulkCreate(document.tests.map((t) => ({ ...t, at: new Date(t.at) })) as never[], into);
  // Events get numbers of their own here; their order is what counts.
  await EventRow.bulkCreate(
    document.events.map(({ id, ...e }) => (void id, { ...e, jobId, at: new Date(e.at) })),
    into,
  );
}

/** Puts the document's spec sheets in. Here they may be other revisions than where they come from. @returns revision here, by "model revision there" */
async function keepModels({ models }: JobDocument, transaction: Transaction): Promise<Map<string, number>> {
  const revisions = new Map<string, number>();
  for (const { revision, spec } of models) {
    const model = spec as unknown as Spec;
    revisions.set(`${model.id} ${revision}`, await keepModel(model, transaction));
  }
  return revisions;
}

async function knownPassphrases(
  sequelize: Sequelize,
  jobId: string,
  transaction: Transaction,
): Promise<Map<string, string>> {
  const rows = await sequelize.query<{ key: string; passphrase: string }>(
    `SELECT s.radio_id || ' ' || s.revision AS key, s.passphrase FROM sheet s JOIN radio r ON r.id = s.radio_id
     WHERE r.job_id = :jobId AND s.passphrase IS NOT NULL`,
    { type: QueryTypes.SELECT, replacements: { jobId }, transaction },
  );
  return new Map(rows.map(({ key, passphrase }) => [key, passphrase]));
}

function date(text: string | null): Date | null {
  return text ? new Date(text) : null;
}
