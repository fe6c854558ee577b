import type { BasisRecord } from '@kivram/contract/entities/basis';
import { jobDocumentFormat, jobDocumentVersion, type JobDocument } from '@kivram/contract/jobDocument/document';
import { Op, Transaction, type Model, type ModelStatic, type Sequelize, type WhereOptions } from 'sequelize';
import { AimMarkRow } from '../../database/models/aimMark';
import { AirRow } from '../../database/models/air';
import { AlignmentRow } from '../../database/models/alignment';
import { BenchRunRow } from '../../database/models/benchRun';
import { CrewMemberRow } from '../../database/models/crewMember';
import { EventRow } from '../../database/models/event';
import { GearModelRow } from '../../database/models/gearModel';
import { JobRow } from '../../database/models/job';
import { LevelProfileRow } from '../../database/models/levelProfile';
import { LevelSourceRow } from '../../database/models/levelSource';
import { LinkRow } from '../../database/models/link';
import { PathCheckRow } from '../../database/models/pathCheck';
import { PhotoRow } from '../../database/models/photo';
import { PlaceRow } from '../../database/models/place';
import { RadioRow } from '../../database/models/radio';
import { RadioLoginRow } from '../../database/models/radioLogin';
import { SheetRow } from '../../database/models/sheet';
import { TerrainFileRow } from '../../database/models/terrainFile';
import { terrainShelf } from '../../terrain/shelf';
import { ThroughputTestRow } from '../../database/models/throughputTest';
import { VisitRow } from '../../database/models/visit';
import { notFound } from '../../http/apiProblem';
import { storedReadings } from '../../services/alignmentViews';
import { alternativesOf, viewAlternative } from '../../services/alternatives';
import { notedLaw } from '../../services/law';
import { cablesOf } from '../../services/cables';
import { needsOf } from '../../services/needs';
import { networkOf } from '../../services/networks';
import { viewMember } from '../../services/people';
import { viewPhoto, viewVisit } from '../../services/visits';
import { sourceBody } from '../../services/sourceSettings';
import { obstaclesOf } from '../../services/obstacles';
import { viewAir, viewJob, viewLinkRow, viewPlace, viewRadio, viewSheet } from '../../services/rowViews';

/**
 * Writes a whole job down, piece by piece: its readings are never in memory all at once. It is the job of one moment, whatever is changed meanwhile. Passphrases are
 * left out unless asked for.
 */
export async function* exportJob(sequelize: Sequelize, jobId: string, withSecrets: boolean): AsyncGenerator<string> {
  const transaction = await sequelize.transaction({
    isolationLevel: Transaction.ISOLATION_LEVELS.REPEATABLE_READ,
    readOnly: true,
  });
  try {
    const { alignments, tests, photos, ...document } = await documentOf(jobId, withSecrets, transaction);
    void photos;
    yield `${JSON.stringify(document).slice(0, -1)},"tests":[`;
    for (const [i, test] of tests.entries())
      yield `${i ? ',' : ''}${JSON.stringify({ ...test, raw: await rawOf(test.id, transaction) })}`;
    yield '],"alignments":[';
    for (const [i, alignment] of alignments.entries()) {
      yield `${i ? ',' : ''}${JSON.stringify({ ...alignment, readings: undefined }).slice(0, -1)},"readings":[`;
      yield* readingsOf(alignment.id, transaction);
      yield ']}';
    }
    yield '],"photos":[';
    yield* photosOf(jobId, transaction);
    yield ']}';
  } finally {
    await transaction.rollback();
  }
}

/** A test's own file, one at a time: that of an hour is a megabyte and a half. */
async function rawOf(testId: string, transaction: Transaction): Promise<Record<string, unknown> | null> {
  const row = await ThroughputTestRow.findByPk(testId, { attributes: ['raw'], transaction, rejectOnEmpty: true });
  return row.raw;
}

/** One after the other: a picture is half a megabyte. */
async function* photosOf(jobId: string, transaction: Transaction): AsyncGenerator<string> {
  const rows = await PhotoRow.findAll({ where: { jobId }, transaction, order: [['addedAt', 'ASC']] });
  for (const [i, row] of rows.entries()) {
    const { fullJpeg } = await PhotoRow.unscoped().findByPk(row.id, {
      attributes: ['fullJpeg'],
      transaction,
      rejectOnEmpty: true,
    });
    yield `${i ? ',' : ''}${JSON.stringify({ ...viewPhoto(row), jpeg: fullJpeg.toString('base64') })}`;
  }
}

async function* readingsOf(alignmentId: string, transaction: Transaction): AsyncGenerator<string> {
  let first = true;
  for await (const rows of storedReadings(alignmentId, transaction)) {
    const text = rows.map(({ alignmentId: _, at, isRepeat, ageS, told, ...reading }) => {
      // What is usual is not written a million times.
      const unusual = { ...(isRepeat && { isRepeat }), ...(ageS && { ageS }), ...(told && { told }) };
      return JSON.stringify({ at: at.toISOString(), ...reading, ...unusual });
    });
    yield `${first ? '' : ','}${text.join(',')}`;
    first = false;
  }
}

/** A whole job but for its readings, photos and the files of its tests. @throws ApiProblem where there is none */
export async function documentOf(jobId: string, withSecrets: boolean, transaction: Transaction): Promise<JobDocument> {
  const job = await JobRow.findByPk(jobId, { transaction });
  if (!job) throw notFound('job');
  const all = async <Row extends Model>(
    rows: ModelStatic<Row>,
    where: WhereOptions,
    ...order: string[]
  ): Promise<Row[]> =>
    rows.findAll({ where, transaction, order: order.map((column): [string, string] => [column, 'ASC']) });
  const of = { jobId };
  // One after the other: a transaction has one connection.
  const crew = await all(CrewMemberRow, of, 'name');
  const places = await all(PlaceRow, of, 'name');
  const airs = await all(AirRow, of, 'id');
  const radios = await all(RadioRow, of, 'id');
  const { network, devices } = await networkOf(jobId, transaction);
  const links = await all(LinkRow, of, 'name');
  const events = await all(EventRow, of, 'id');
  const ofLinks = { linkId: links.map((l) => l.id) };
  const sheets = await all(SheetRow, { radioId: radios.map((r) => r.id) }, 'radioId', 'revision');
  const logins = await all(RadioLoginRow, { radioId: radios.map((r) => r.id) }, 'radioId');
  const sources = await all(LevelSourceRow, { radioId: radios.map((r) => r.id) }, 'radioId', 'peerId');
  const profileIds = sources.flatMap(({ profileId }) => profileId ?? []);
  const profiles = await all(LevelProfileRow, { id: profileIds }, 'name');
  const checks = await all(PathCheckRow, ofLinks, 'at', 'id');
  const alternatives = await alternativesOf(ofLinks.linkId, transaction);
  const benchRuns = await all(BenchRunRow, ofLinks, 'at', 'id');
  const alignments = await all(AlignmentRow, ofLinks, 'startedAt', 'id');
  const tests = await ThroughputTestRow.findAll({
    where: ofLinks,
    attributes: { exclude: ['raw'] },
    order: [
      ['at', 'ASC'],
      ['id', 'ASC'],
    ],
    transaction,
  });
  const used = radios.map((r) => ({ id: r.modelId, revision: r.modelRevision }));
  const models = used.length ? await all(GearModelRow, { [Op.or]: used }, 'id', 'revision') : [];
  const obstacles = await obstaclesOf(jobId, transaction);
  const visits = await all(VisitRow, of, 'startedAt', 'id');
  const cables = await cablesOf(jobId, transaction);
  const needs = await needsOf(JobRow.sequelize as Sequelize, jobId, transaction);
  const { localRules, licences } = await notedLaw(jobId, transaction);
  const files = terrainShelf.filesUnder(await all(TerrainFileRow, {}, 'name'), places);
  const records: JobDocument['alignments'] = [];
  for (const row of alignments) records.push(await alignmentRecord(row, transaction));
  return {
    format: jobDocumentFormat,
    formatVersion: jobDocumentVersion,
    exportedAt: new Date().toISOString(),
    secrets: withSecrets ? 'included' : 'left out',
    job: viewJob(job),
    crew: crew.map(viewMember),
    places: places.map(viewPlace),
    airs: airs.map(viewAir),
    radios: radios.map(viewRadio),
    obstacles,
    needs,
    cables,
    localRules,
    licences,
    network,
    devices,
    links: links.map(viewLinkRow),
    sheets: sheets.map((row) => ({
      radioId: row.radioId,
      revision: row.revision,
      savedAt: row.savedAt.toISOString(),
      crewMemberId: row.crewMemberId,
      sheet: { ...viewSheet(row), ...(!withSecrets && { passphrase: null }) },
    })),
    logins: logins.map(({ radioId, userName, password }) => ({
      radioId,
      userName,
      password: withSecrets ? password : null,
    })),
    levelSources: sources.map((row) => ({
      radioId: row.radioId,
      peerId: row.peerId,
      source: sourceBody(row, withSecrets),
    })),
    pathChecks: checks.map((row) => ({ ...row.get({ plain: true }), at: row.at.toISOString() })),
    levelProfiles: profiles.map(({ id, name, way, values, version }) => ({ id, version, name, way, ...values })),
    alternatives: alternatives.map((row) => ({ ...viewAlternative(row), linkId: row.linkId })),
    benchRuns: benchRuns.map((row) => ({
      ...row.get({ plain: true }),
      at: row.at.toISOString(),
      basis: row.basis as BasisRecord | null,
    })),
    alignments: records,
    tests: tests.map((row) => ({
      ...row.get({ plain: true }),
      raw: null,
      at: row.at.toISOString(),
      verdict: { ...row.verdict },
      basis: row.basis as BasisRecord | null,
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
    visits: visits.map(viewVisit),
    photos: [],
    terrain: files.map(({ name, sha256 }) => ({ name, sha256 })),
    models: models.map(({ revision, spec }) => ({ revision, spec: { ...spec } })),
  };
}

async function alignmentRecord(
  row: AlignmentRow,
  transaction: Transaction,
): Promise<JobDocument['alignments'][number]> {
  const marks = await AimMarkRow.findAll({ where: { alignmentId: row.id }, order: [['number', 'ASC']], transaction });
  return {
    id: row.id,
    linkId: row.linkId,
    state: row.state,
    startedAt: row.startedAt.toISOString(),
    finishedAt: row.finishedAt?.toISOString() ?? null,
    crewMemberId: row.crewMemberId,
    plan: { ...row.plan },
    result: row.result && { ...row.result },
    levelsFrom: [...row.levelsFrom],
    evidenceKind: row.evidenceKind,
    basis: row.basis as BasisRecord | null,
    readings: [],
    marks: marks.map(({ id, radioId, peerId, tS, kind, direction }) => ({ id, radioId, peerId, tS, kind, direction })),
  };
}
