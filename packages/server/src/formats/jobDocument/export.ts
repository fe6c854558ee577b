import { jobDocumentFormat, jobDocumentVersion, type JobDocument } from '@kivram/contract';
import { Op } from 'sequelize';
import {
  AimMarkRow,
  AirRow,
  AlignmentRow,
  BenchRunRow,
  CrewMemberRow,
  EventRow,
  GearModelRow,
  JobRow,
  KnownDeviceRow,
  LinkRow,
  NetworkRow,
  PlaceRow,
  RadioRow,
  ReadingRow,
  SheetRow,
  ThroughputTestRow,
} from '../../database/models';
import { notFound } from '../../http/problem';
import { obstaclesOf } from '../../services/obstacles';
import { viewAir, viewJob, viewLinkRow, viewNetwork, viewPlace, viewRadio, viewSheet } from '../../services/rowViews';

/** Writes a whole job down. Passphrases are left out unless asked for. */
export async function exportJob(jobId: string, withSecrets: boolean): Promise<JobDocument> {
  const job = await JobRow.findByPk(jobId);
  if (!job) throw notFound('job');
  const of = { where: { jobId } };
  const [crew, places, airs, radios, network, links, events] = await Promise.all([
    CrewMemberRow.findAll({ ...of, order: [['name', 'ASC']] }),
    PlaceRow.findAll({ ...of, order: [['name', 'ASC']] }),
    AirRow.findAll({ ...of, order: [['id', 'ASC']] }),
    RadioRow.findAll({ ...of, order: [['id', 'ASC']] }),
    NetworkRow.findOne(of),
    LinkRow.findAll({ ...of, order: [['name', 'ASC']] }),
    EventRow.findAll({ ...of, order: [['id', 'ASC']] }),
  ]);
  const ofRadios = { radioId: radios.map((r) => r.id) };
  const ofLinks = { linkId: links.map((l) => l.id) };
  const [devices, sheets, benchRuns, alignments, tests, models] = await Promise.all([
    network ? KnownDeviceRow.findAll({ where: { networkId: network.id }, order: [['address', 'ASC']] }) : [],
    SheetRow.findAll({
      where: ofRadios,
      order: [
        ['radioId', 'ASC'],
        ['revision', 'ASC'],
      ],
    }),
    BenchRunRow.findAll({ where: ofLinks, order: [['at', 'ASC']] }),
    AlignmentRow.findAll({ where: ofLinks, order: [['startedAt', 'ASC']] }),
    ThroughputTestRow.findAll({
      where: ofLinks,
      order: [
        ['at', 'ASC'],
        ['id', 'ASC'],
      ],
    }),
    radios.length
      ? GearModelRow.findAll({
          where: { [Op.or]: radios.map((r) => ({ id: r.modelId, revision: r.modelRevision })) },
          order: [
            ['id', 'ASC'],
            ['revision', 'ASC'],
          ],
        })
      : [],
  ]);
  return {
    format: jobDocumentFormat,
    formatVersion: jobDocumentVersion,
    exportedAt: new Date().toISOString(),
    secrets: withSecrets ? 'included' : 'left out',
    job: viewJob(job),
    crew: crew.map(({ id, name }) => ({ id, name })),
    places: places.map(viewPlace),
    airs: airs.map(viewAir),
    radios: radios.map(viewRadio),
    obstacles: await obstaclesOf(jobId),
    network: network && viewNetwork(network),
    devices: devices.map(({ id, name, address }) => ({ id, name, address })),
    links: links.map(viewLinkRow),
    sheets: sheets.map((row) => ({
      radioId: row.radioId,
      revision: row.revision,
      savedAt: row.savedAt.toISOString(),
      crewMemberId: row.crewMemberId,
      sheet: { ...viewSheet(row), ...(!withSecrets && { passphrase: null }) },
    })),
    benchRuns: benchRuns.map((row) => ({
      ...row.get({ plain: true }),
      at: row.at.toISOString(),
      basis: plain(row.basis),
    })),
    alignments: await Promise.all(alignments.map(alignmentRecord)),
    tests: tests.map((row) => ({
      ...row.get({ plain: true }),
      at: row.at.toISOString(),
      verdict: { ...row.verdict },
      basis: plain(row.basis),
    })),
    events: events.map(({ id, linkId, at, crewMemberId, kind, summary, detail }) => ({
      id: Number(id),
      linkId,
      at: at.toISOString(),
      crewMemberId,
      kind,
      summary,
      detail,
    })),
    models: models.map(({ revision, spec }) => ({ revision, spec: { ...spec } })),
  };
}

async function alignmentRecord(row: AlignmentRow): Promise<JobDocument['alignments'][number]> {
  const where = { alignmentId: row.id };
  const [readings, marks] = await Promise.all([
    ReadingRow.findAll({
      where,
      order: [
        ['at', 'ASC'],
        ['radioId', 'ASC'],
      ],
      raw: true,
    }),
    AimMarkRow.findAll({ where, order: [['number', 'ASC']] }),
  ]);
  return {
    id: row.id,
    linkId: row.linkId,
    state: row.state,
    startedAt: row.startedAt.toISOString(),
    finishedAt: row.finishedAt?.toISOString() ?? null,
    crewMemberId: row.crewMemberId,
    plan: { ...row.plan },
    result: row.result && { ...row.result },
    evidenceKind: row.evidenceKind,
    basis: plain(row.basis),
    readings: readings.map(
      ({ at, alignmentId, ...reading }) => (void alignmentId, { at: at.toISOString(), ...reading }),
    ),
    marks: marks.map(({ id, radioId, peerId, tS, kind, direction }) => ({ id, radioId, peerId, tS, kind, direction })),
  };
}

function plain(value: object | null): Record<string, unknown> | null {
  return value && { ...value };
}
