import { JobDocument, check, jobDocumentFormat, jobDocumentVersion, type ImportResult } from '@kivram/contract';
import type { Model as Spec, Reading } from '@kivram/core';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import {
  AimMarkRow,
  AlignmentRow,
  BenchRunRow,
  CrewMemberRow,
  EventRow,
  GearModelRow,
  JobRow,
  KnownDeviceRow,
  LinkRow,
  NetworkRow,
  ObstacleRow,
  PlaceRow,
  RadioRow,
  ReadingRow,
  SheetRow,
  ThroughputTestRow,
} from '../database/models';
import { ensureReadingPartition } from '../database/readingPartition';
import { ApiProblem, notFound } from '../http/problem';
import { viewLinkRow, viewPlace, viewRadio, viewSheet } from '../services/links';
import { marksOf } from '../services/alignmentViews';
import { obstaclesOf } from '../services/obstacles';

/** Writes a whole job down. Passphrases are left out unless asked for. */
export async function exportJob(jobId: string, withSecrets: boolean): Promise<JobDocument> {
  const job = await JobRow.findByPk(jobId);
  if (!job) throw notFound('job');
  const of = { where: { jobId } };
  const [crew, places, radios, network, links, events] = await Promise.all([
    CrewMemberRow.findAll({ ...of, order: [['name', 'ASC']] }),
    PlaceRow.findAll({ ...of, order: [['name', 'ASC']] }),
    RadioRow.findAll({ ...of, order: [['id', 'ASC']] }),
    NetworkRow.findOne(of),
    LinkRow.findAll({ ...of, order: [['name', 'ASC']] }),
    EventRow.findAll({ ...of, order: [['id', 'ASC']] }),
  ]);
  const radioIds = radios.map((r) => r.id);
  const linkIds = links.map((l) => l.id);
  const [devices, sheets, benchRuns, alignments, tests, models] = await Promise.all([
    network ? KnownDeviceRow.findAll({ where: { networkId: network.id }, order: [['address', 'ASC']] }) : [],
    SheetRow.findAll({
      where: { radioId: radioIds },
      order: [
        ['radioId', 'ASC'],
        ['revision', 'ASC'],
      ],
    }),
    BenchRunRow.findAll({ where: { linkId: linkIds }, order: [['at', 'ASC']] }),
    AlignmentRow.findAll({ where: { linkId: linkIds }, order: [['startedAt', 'ASC']] }),
    ThroughputTestRow.findAll({
      where: { linkId: linkIds },
      order: [
        ['at', 'ASC'],
        ['id', 'ASC'],
      ],
    }),
    GearModelRow.findAll({ where: { id: [...new Set(radios.map((r) => r.modelId))] }, order: [['id', 'ASC']] }),
  ]);
  return {
    format: jobDocumentFormat,
    formatVersion: jobDocumentVersion,
    exportedAt: new Date().toISOString(),
    secrets: withSecrets ? 'included' : 'left out',
    job: { id: job.id, name: job.name, customer: job.customer, country: job.country, version: job.version },
    crew: crew.map(({ id, name }) => ({ id, name })),
    places: places.map(viewPlace),
    radios: radios.map(viewRadio),
    obstacles: await obstaclesOf(jobId),
    network: network && without(network.get({ plain: true }), 'jobId'),
    devices: devices.map(({ id, name, address }) => ({ id, name, address })),
    links: links.map(viewLinkRow),
    sheets: sheets.map((row) => ({
      radioId: row.radioId,
      revision: row.revision,
      savedAt: row.savedAt.toISOString(),
      crewMemberId: row.crewMemberId,
      sheet: { ...viewSheet(row), ...(!withSecrets && { passphrase: null }) },
    })),
    benchRuns: benchRuns.map((row) => ({ ...row.get({ plain: true }), at: row.at.toISOString() })),
    alignments: await Promise.all(
      alignments.map(async (row) => ({
        id: row.id,
        linkId: row.linkId,
        state: row.state,
        startedAt: row.startedAt.toISOString(),
        finishedAt: row.finishedAt?.toISOString() ?? null,
        crewMemberId: row.crewMemberId,
        plan: { ...row.plan },
        result: row.result && { ...row.result },
        readings: (
          await ReadingRow.findAll({
            where: { alignmentId: row.id },
            order: [
              ['at', 'ASC'],
              ['linkEnd', 'DESC'],
            ],
            raw: true,
          })
        ).map((r) => ({ at: r.at.toISOString(), ...without(without(r, 'alignmentId'), 'at') })),
        marks: await marksOf(row.id),
      })),
    ),
    tests: tests.map((row) => ({ ...row.get({ plain: true }), at: row.at.toISOString(), verdict: { ...row.verdict } })),
    events: events.map((row) => ({
      ...without(row.get({ plain: true }), 'jobId'),
      id: Number(row.id),
      at: row.at.toISOString(),
    })),
    models: models.map((m) => m.spec),
  };
}

/**
 * Brings a job document in, all of it or nothing. With `replace`, an existing job of the same id is replaced; passphrases that the
 * document leaves out stay as they were.
 */
export async function importJob(sequelize: Sequelize, plain: unknown, replace: boolean): Promise<ImportResult> {
  const checked = check(JobDocument, plain);
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
  for (const spec of document.models as Spec[]) {
    await GearModelRow.findOrCreate({ where: { id: spec.id }, defaults: { id: spec.id, spec }, transaction });
  }
  await JobRow.create({ ...document.job }, into);
  await CrewMemberRow.bulkCreate(inJob(document.crew), into);
  await PlaceRow.bulkCreate(inJob(document.places), into);
  await ObstacleRow.bulkCreate(inJob(document.obstacles ?? []), into);
  await RadioRow.bulkCreate(inJob(document.radios), into);
  if (document.network) {
    const { id } = await NetworkRow.create({ ...document.network, jobId }, into);
    await KnownDeviceRow.bulkCreate(
      document.devices.map((d) => ({ ...d, networkId: id })),
      into,
    );
  }
  await LinkRow.bulkCreate(
    document.links.map((l) => ({
      ...l,
      jobId,
      nearMountedAt: date(l.nearMountedAt),
      farMountedAt: date(l.farMountedAt),
    })),
    into,
  );
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
  await BenchRunRow.bulkCreate(
    document.benchRuns.map((r) => ({ ...r, at: new Date(r.at) })),
    into,
  );
  for (const { readings, marks, ...record } of document.alignments) {
    await AlignmentRow.create(
      { ...record, startedAt: new Date(record.startedAt), finishedAt: date(record.finishedAt) } as never,
      into,
    );
    const rows = readings as (Omit<Reading, 'end'> & { at: string; linkEnd: 'near' | 'far' })[];
    for (const month of new Set(rows.map((r) => r.at.slice(0, 7))))
      await ensureReadingPartition(sequelize, new Date(`${month}-01`));
    await ReadingRow.bulkCreate(
      rows.map((r) => ({ ...r, at: new Date(r.at), alignmentId: record.id })),
      into,
    );
    const aimMarks = marks as { kind: AimMarkRow['kind']; tS: number; direction?: number }[];
    await AimMarkRow.bulkCreate(
      aimMarks.map((m, i) => ({
        alignmentId: record.id,
        sequence: i + 1,
        kind: m.kind,
        tS: m.tS,
        direction: m.direction ?? null,
      })),
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

function without<T extends object, K extends keyof T>(row: T, key: K): Omit<T, K> {
  const { [key]: left, ...rest } = row;
  void left;
  return rest;
}
