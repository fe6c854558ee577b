import { ReadingRecord } from '@kivram/contract/jobDocument/alignment';
import { JobDocument } from '@kivram/contract/jobDocument/document';
import { jobFileLimits, testFileLimits } from '@kivram/contract/jobDocument/limits';
import { PhotoRecord } from '@kivram/contract/jobDocument/photo';
import { refusePlain } from '@kivram/contract/plain';
import type { FieldError } from '@kivram/contract/problem';
import { check, mostErrors } from '@kivram/contract/validate';
import type { ImportResult } from '@kivram/contract/views/job';
import { coveringLicence } from '@kivram/core/spectrum/licence';
import { randomUUID } from 'node:crypto';
import type { FileHandle } from 'node:fs/promises';
import { Op, QueryTypes, type Model, type ModelStatic, type Sequelize, type Transaction } from 'sequelize';
import { advisoryLock } from '../../database/locks';
import { AimMarkRow } from '../../database/models/aimMark';
import { AirRow } from '../../database/models/air';
import { AlignmentRow } from '../../database/models/alignment';
import { AlternativeRow } from '../../database/models/alternative';
import { BenchRunRow } from '../../database/models/benchRun';
import { CableRow } from '../../database/models/cable';
import { CrewMemberRow } from '../../database/models/crewMember';
import { EventRow } from '../../database/models/event';
import { JobRow } from '../../database/models/job';
import { LevelProfileRow } from '../../database/models/levelProfile';
import { LevelSourceRow } from '../../database/models/levelSource';
import { LicenceRow } from '../../database/models/licence';
import { LinkRow } from '../../database/models/link';
import { LocalRuleRow } from '../../database/models/localRule';
import { NetworkRow } from '../../database/models/network';
import { ObstacleRow } from '../../database/models/obstacle';
import { PathCheckRow } from '../../database/models/pathCheck';
import { PersonRow } from '../../database/models/person';
import { PhotoRow } from '../../database/models/photo';
import { PlaceRow } from '../../database/models/place';
import { PlaceNeedRow } from '../../database/models/placeNeed';
import { RadioRow } from '../../database/models/radio';
import { RadioLoginRow } from '../../database/models/radioLogin';
import { SheetRow } from '../../database/models/sheet';
import { TerrainFileRow } from '../../database/models/terrainFile';
import { ThroughputTestRow } from '../../database/models/throughputTest';
import { VisitRow } from '../../database/models/visit';
import { ensureReadingPartitions } from '../../database/readingPartition';
import { keep } from '../../services/levelProfiles';
import { sourceColumns, type KeptSource } from '../../services/sourceSettings';
import { storeReadings } from '../../database/readings';
import { ApiProblem } from '../../http/apiProblem';
import type { Importer, ImportChoice } from '../../intake/task';
import { endAlignments } from '../../services/alignmentEnds';
import { freeName } from '../../services/freeName';
import { keepForeignModel } from '../../services/gear';
import { fillNetwork } from '../../services/networks';
import { vault } from '../../secrets/vault';
import { readJobFile, type ReadingsPiece, type TestFilePiece } from './file';
import { newIds, renamed, strayPhoto, strayReferences } from './ids';
import { keepPhoto } from '../photo';
import { upgradeDocument, upgradeReading } from './upgrade';

/** One text of it is the picture. */
const photoRecordLimits = { depth: 3, values: 60 };
const documentLimits = { depth: 24, values: jobFileLimits.values };

/** No table takes more rows in one statement. */
const rowsAtOnce = 1000;

/** Characters of a job's name. */
const longestName = 80;

/** Months that the measurements of one job may lie in. */
const mostMonths = 240;
const dayMs = 86_400_000;

/**
 * Brings a job's file in, all of it or nothing. It comes from anywhere: everything in it is checked, it may refer to nothing but itself, and it gets new identifiers,
 * unless it replaces the job that it was exported from. Then passphrases that it leaves out stay as they were. Documents of version 1, from before airs, are brought
 * up to date first.
 */
export async function importJob(
  sequelize: Sequelize,
  file: string | FileHandle,
  choice: ImportChoice,
  asks: Importer = { personId: null, mayReplace: null },
): Promise<ImportResult> {
  const plain = await readJobFile(file);
  const checked = check(JobDocument, upgradeDocument(plain), documentLimits);
  if (checked.errors) throw invalid(checked.errors);
  const stray = strayReferences(checked.value);
  if (stray.length) throw invalid(stray.slice(0, mostErrors));
  endRunning(checked.value);
  const spans = checked.value.alignments.map(spanOf);

  const origin = checked.value.job.id;
  // The job itself, or what this file came in as before.
  const existing =
    (await JobRow.findByPk(origin)) ??
    (await JobRow.findOne({ where: { originId: origin }, order: [['name', 'ASC']] }));
  const mayReplace = existing !== null && (asks.mayReplace?.includes(existing.id) ?? true);
  if (existing && choice === 'refuse') {
    throw new ApiProblem(
      409,
      'Job exists',
      `The job ${mayReplace ? `"${existing.name}"` : 'of this file'} is here already${existing.id === origin ? '' : ', from this file'}. Import again and choose to replace it, whose present state is lost then, or to put a copy beside it.`,
    );
  }
  const replaces = existing !== null && choice === 'replace';
  if (replaces && !mayReplace)
    throw new ApiProblem(403, 'Not your part', 'Only who leads the job of this file may replace it.');
  const ids =
    existing && replaces && existing.id === origin
      ? new Map<string, string>()
      : newIds(checked.value, replaces ? existing.id : undefined);
  const document = renamed(checked.value, ids);
  // Made before, outside the transaction, which would otherwise wait for whoever reads the table.
  await ensureReadingPartitions(sequelize, monthsOf(spans));
  if (replaces)
    await endAlignments(sequelize, { jobId: document.job.id }, 'The job was replaced by a file, so aiming was ended');

  const warnings: string[] = [];
  await sequelize.transaction(async (transaction) => {
    const signIns = replaces ? await knownSignIns(document.job.id, transaction) : [];
    const secrets = replaces ? await knownSecrets(sequelize, document.job.id, transaction) : noSecrets;
    if (replaces) await JobRow.destroy({ where: { id: document.job.id }, transaction });
    await insertDocument(document, transaction, secrets, warnings);
    const terrainNames = await missingTerrain(document, warnings, transaction);
    await JobRow.update(
      { originId: document.job.id === origin ? (existing?.originId ?? null) : origin, terrainNames },
      { where: { id: document.job.id }, transaction },
    );
    await giveSignInsBack(document.job.id, signIns, transaction);
    if (asks.personId && !replaces) await leadBy(document.job.id, asks.personId, transaction);
    let photos = 0;
    await readJobFile(file, {
      readings: insertReadings,
      testFile: insertTestFile,
      photo: (photo) => insertPhoto(photo, photos++),
    });
    if (document.job.id !== origin) await takeFreeName(sequelize, document.job, transaction);

    async function insertTestFile({ test, raw }: TestFilePiece): Promise<void> {
      const wrong =
        typeof raw === 'object' && !Array.isArray(raw)
          ? refusePlain(raw, testFileLimits)
          : { field: '', message: 'raw must be what iperf3 wrote' };
      if (wrong) throw invalid([{ ...wrong, field: `tests.${test}.raw${wrong.field && `.${wrong.field}`}` }]);
      await ThroughputTestRow.update(
        { raw: raw as Record<string, unknown> },
        { where: { id: document.tests[test]?.id ?? '' }, transaction },
      );
    }

    // What is kept is a picture and nothing else, whatever the file said.
    async function insertPhoto(photo: unknown, i: number): Promise<void> {
      const found = check(PhotoRecord, photo, photoRecordLimits);
      if (found.errors) throw invalid(found.errors.map((e) => ({ ...e, field: `photos.${i}.${e.field}` })));
      const { jpeg, ...record } = found.value;
      const strays = strayPhoto(record, checked.value as JobDocument, `photos.${i}`);
      if (strays.length) throw invalid(strays);
      const { full, small, widthPx, heightPx } = await keepPhoto(Buffer.from(jpeg, 'base64'));
      await PhotoRow.create(
        {
          // Under a new identifier where the job is new: the same photo may be here already.
          ...renamed(record, ids),
          ...(document.job.id !== origin && { id: randomUUID() }),
          jobId: document.job.id,
          addedAt: new Date(record.addedAt),
          takenAt: date(record.takenAt),
          widthPx,
          heightPx,
          fullJpeg: Buffer.from(full),
          smallJpeg: Buffer.from(small),
        },
        { transaction },
      );
    }

    async function insertReadings({ alignment, readings }: ReadingsPiece): Promise<void> {
      const into = document.alignments[alignment];
      const link = checked.value?.links.find((l) => l.id === checked.value?.alignments[alignment]?.linkId);
      const span = spans[alignment];
      if (!into || !link || !span)
        throw invalid([{ field: `alignments.${alignment}`, message: 'it was not there before' }]);
      const rows = readings.map((reading, i) => {
        const field = `alignments.${alignment}.readings: number ${i + 1} of a piece of ${readings.length}`;
        const found = check(ReadingRecord, upgradeReading(reading, link));
        if (found.errors) throw invalid(found.errors.map((e) => ({ ...e, field: `${field}, ${e.field}` })));
        const { radioId, peerId, at } = found.value;
        const ours = [link.nearRadioId, link.farRadioId];
        if (!ours.includes(radioId) || !ours.includes(peerId) || radioId === peerId)
          throw invalid([{ field, message: 'it is of other radios than those of the link' }]);
        const atMs = Date.parse(at);
        if (atMs < span.fromMs || atMs > span.untilMs)
          throw invalid([{ field, message: `${at} is not within its alignment` }]);
        return renamed({ ...found.value }, ids);
      });
      await storeReadings(sequelize, into.id, rows, { transaction });
    }
  });
  return { jobId: document.job.id, links: document.links.length, warnings };
}

function invalid(errors: FieldError[]): ApiProblem {
  const words = errors.map((e) => (e.field ? `${e.field}: ${e.message}` : e.message)).join('. ');
  return new ApiProblem(422, 'Not a valid job document', words.slice(0, 4000), errors);
}

/** What ran when the job was written down does not run here. */
function endRunning(document: JobDocument): void {
  for (const alignment of document.alignments) {
    if (alignment.state !== 'running') continue;
    alignment.state = 'abandoned';
    alignment.finishedAt = document.exportedAt;
  }
}

interface Span {
  fromMs: number;
  untilMs: number;
}

/** When the readings of an alignment can have been taken, a day more at each side, for clocks are set. @throws ApiProblem when it cannot have been */
function spanOf({ startedAt, finishedAt }: JobDocument['alignments'][number], index: number): Span {
  const fromMs = Date.parse(startedAt) - dayMs;
  const untilMs = Date.parse(finishedAt ?? startedAt) + dayMs;
  if (untilMs > Date.now() + 7 * dayMs || untilMs < fromMs || untilMs - fromMs > 60 * dayMs) {
    throw invalid([
      {
        field: `alignments.${index}`,
        message: `it runs from ${startedAt} to ${finishedAt ?? 'now'}: no alignment lies in the future or takes months`,
      },
    ]);
  }
  return { fromMs, untilMs };
}

function monthsOf(spans: readonly Span[]): Date[] {
  const months = new Map<string, Date>();
  for (const { fromMs, untilMs } of spans) {
    for (let ms = fromMs; ms < untilMs + dayMs; ms += dayMs) {
      const day = new Date(Math.min(ms, untilMs));
      months.set(day.toISOString().slice(0, 7), day);
    }
  }
  if (months.size > mostMonths)
    throw invalid([{ field: 'alignments', message: `they lie in ${months.size} months; ${mostMonths} at most` }]);
  return [...months.values()];
}

/** The terrain that the job rested on where it was written, and is not here: told once, and kept with the job for what its paths say. */
async function missingTerrain(
  { terrain = [] }: JobDocument,
  warnings: string[],
  transaction: Transaction,
): Promise<string[]> {
  if (!terrain.length) return [];
  const here = await TerrainFileRow.findAll({
    where: { sha256: terrain.map(({ sha256 }) => sha256) },
    attributes: ['sha256'],
    transaction,
  });
  const known = new Set(here.map(({ sha256 }) => sha256));
  const missing = terrain.filter(({ sha256 }) => !known.has(sha256)).map(({ name }) => name);
  if (missing.length)
    warnings.push(
      `The terrain under this job does not travel with it: bring ${missing.join(', ')} in on the map. Until then no path over unknown ground is judged.`,
    );
  return missing;
}

/** Puts a document in but for its readings; warns of settings that come without a passphrase and have none in `secrets` either. */
export async function insertDocument(
  document: JobDocument,
  transaction: Transaction,
  secrets: KnownSecrets = noSecrets,
  warnings: string[] = [],
): Promise<void> {
  const jobId = document.job.id;
  const into = { transaction };
  const inJob = <T extends object>(rows: T[]) => rows.map((row) => ({ ...row, jobId }));
  const put = async (table: ModelStatic<Model>, rows: object[]): Promise<void> => {
    for (let i = 0; i < rows.length; i += rowsAtOnce) {
      await table.bulkCreate(rows.slice(i, i + rowsAtOnce) as never[], into);
    }
  };
  const revisions = await keepModels(document, transaction);
  await JobRow.create({ ...document.job, archivedAt: date(document.job.archivedAt) }, into);
  await put(
    CrewMemberRow,
    inJob(document.crew).map((member) => ({ ...member, leftAt: date(member.leftAt) })),
  );
  await put(PlaceRow, inJob(document.places));
  await put(PlaceNeedRow, document.needs ?? []);
  await put(CableRow, inJob(document.cables ?? []));
  await put(ObstacleRow, inJob(document.obstacles ?? []));
  await put(LocalRuleRow, inJob(document.localRules ?? []));
  await put(LicenceRow, inJob(document.licences ?? []));
  const { licences = [] } = document;
  await put(
    AirRow,
    // Files from before licences were chosen went by their frequencies.
    inJob(document.airs).map((air) => ({
      ...air,
      licenceId: air.licenceId === undefined ? (coveringLicence(air, licences)?.id ?? null) : air.licenceId,
    })),
  );
  await put(
    RadioRow,
    inJob(document.radios).map((r) => ({
      ...r,
      modelRevision: revisions.get(`${r.modelId} ${r.modelRevision}`) ?? r.modelRevision,
      mountedAt: date(r.mountedAt),
    })),
  );
  if (document.network) {
    const { subnets, ...network } = document.network;
    const { id } = await NetworkRow.create({ ...network, jobId }, into);
    await fillNetwork(id, { subnets, devices: document.devices }, transaction);
  }
  await put(
    VisitRow,
    inJob(document.visits).map((visit) => ({
      ...visit,
      startedAt: new Date(visit.startedAt),
      endedAt: date(visit.endedAt),
    })),
  );
  await put(LinkRow, inJob(document.links));
  await put(
    AlternativeRow,
    (document.alternatives ?? []).map((kept) => ({ ...kept, madeAt: date(kept.madeAt) })),
  );
  await put(
    RadioLoginRow,
    document.logins.map((login) => ({
      ...login,
      password: login.password ?? secrets.texts.get(loginKey(login.radioId)) ?? null,
    })),
  );
  const profileIds = await keepProfiles(document, transaction);
  await put(
    LevelSourceRow,
    (document.levelSources ?? []).map(({ radioId, peerId, source }) => {
      const profileId = source.profileId && profileIds.get(source.profileId);
      // What it is read by is not in the file: somebody has to choose again.
      const way = source.profileId && !profileId ? 'typed' : source.way;
      const kept = secrets.sources.get(`${radioId} ${peerId}`) ?? null;
      return { radioId, peerId, ...sourceColumns({ ...source, way, profileId }, kept) };
    }),
  );
  await put(
    PathCheckRow,
    (document.pathChecks ?? []).map((check) => ({ ...check, at: new Date(check.at) })),
  );
  let missing = 0;
  await put(
    SheetRow,
    document.sheets.map(({ sheet, ...record }) => {
      const passphrase = sheet.passphrase ?? secrets.texts.get(`${record.radioId} ${record.revision}`) ?? null;
      if (!passphrase && sheet.security !== 'open') missing++;
      return { ...sheet, ...record, passphrase, savedAt: new Date(record.savedAt) };
    }),
  );
  if (missing)
    warnings.push(
      `${missing} settings sheet${missing > 1 ? 's have' : ' has'} no passphrase: the file was exported without secrets.`,
    );
  await put(
    BenchRunRow,
    document.benchRuns.map((r) => ({ ...r, at: new Date(r.at) })),
  );
  await put(
    AlignmentRow,
    document.alignments.map(({ readings, marks, ...record }) => ({
      ...record,
      startedAt: new Date(record.startedAt),
      finishedAt: date(record.finishedAt),
    })),
  );
  for (const { id, marks } of document.alignments) {
    await put(
      AimMarkRow,
      marks.map((m) => ({ ...m, alignmentId: id })),
    );
  }
  await put(
    ThroughputTestRow,
    document.tests.map((t) => ({ ...t, at: new Date(t.at) })),
  );
  // Events get numbers of their own here; their order is what counts.
  await put(
    EventRow,
    document.events.map(({ id, ...e }) => ({ ...e, jobId, at: new Date(e.at) })),
  );
}

/** Puts the document's profiles in; one that is known here, or whose name is, stays as it is here. @returns profile here, by profile there */
async function keepProfiles(
  { levelProfiles = [] }: JobDocument,
  transaction: Transaction,
): Promise<Map<string, string>> {
  const known = await LevelProfileRow.findAll({ transaction });
  const ids = new Map<string, string>();
  for (const { id, ...profile } of levelProfiles) {
    const here = known.find((row) => row.id === id || row.name.toLowerCase() === profile.name.toLowerCase());
    if (!here) await keep(id, profile, null, transaction);
    ids.set(id, here?.id ?? id);
  }
  return ids;
}

/** Puts the document's spec sheets in. Here they may be other revisions than where they come from. @returns revision here, by "model revision there" */
async function keepModels({ models }: JobDocument, transaction: Transaction): Promise<Map<string, number>> {
  const revisions = new Map<string, number>();
  for (const { revision, spec } of models) {
    revisions.set(`${spec.id} ${revision}`, await keepForeignModel(spec, transaction));
  }
  return revisions;
}

/** What the job that is replaced has kept, in the clear. */
interface KnownSecrets {
  /** passphrases by radio and revision, passwords of radios by `loginKey` */
  texts: ReadonlyMap<string, string>;
  /** by the radio that hears and the one that is heard */
  sources: ReadonlyMap<string, KeptSource>;
}

const noSecrets: KnownSecrets = { texts: new Map(), sources: new Map() };

async function knownSecrets(sequelize: Sequelize, jobId: string, transaction: Transaction): Promise<KnownSecrets> {
  const rows = await sequelize.query<{ key: string; passphrase: string }>(
    `SELECT s.radio_id || ' ' || s.revision AS key, s.passphrase FROM sheet s JOIN radio r ON r.id = s.radio_id
     WHERE r.job_id = :jobId AND s.passphrase IS NOT NULL`,
    { type: QueryTypes.SELECT, replacements: { jobId }, transaction },
  );
  const radioId = (await RadioRow.findAll({ where: { jobId }, attributes: ['id'], transaction })).map(({ id }) => id);
  const logins = await RadioLoginRow.findAll({ where: { radioId }, transaction });
  const sources = await LevelSourceRow.findAll({ where: { radioId }, transaction });
  return {
    sources: new Map(sources.map((row) => [`${row.radioId} ${row.peerId}`, row])),
    texts: new Map([
      ...rows.flatMap(({ key, passphrase }): [string, string][] => {
        const opened = vault().read(passphrase);
        return opened === null ? [] : [[key, opened]];
      }),
      ...logins.flatMap(({ radioId, password }): [string, string][] =>
        password ? [[loginKey(radioId), password]] : [],
      ),
    ]),
  };
}

/** Under which the password of a radio stands among the secrets of a job. */
const loginKey = (radioId: string): string => `${radioId} login`;

function date(text: string | null | undefined): Date | null {
  return text ? new Date(text) : null;
}

type SignIn = Pick<CrewMemberRow, 'id' | 'name' | 'role' | 'personId'>;

/** Who signs in to a job over the network, as what: a file knows nothing of it. */
async function knownSignIns(jobId: string, transaction: Transaction): Promise<SignIn[]> {
  const rows = await CrewMemberRow.findAll({ where: { jobId, personId: { [Op.ne]: null } }, transaction });
  return rows.map(({ id, name, role, personId }) => ({ id, name, role, personId }));
}

/** A file gives nobody a part that they did not have: who signs in stays what they were, also where the file does not know them. */
async function giveSignInsBack(jobId: string, signIns: readonly SignIn[], transaction: Transaction): Promise<void> {
  for (const { id, name, role, personId } of signIns) {
    const [count] = await CrewMemberRow.update({ role, personId, leftAt: null }, { where: { jobId, id }, transaction });
    if (!count) {
      const names = new Set((await CrewMemberRow.findAll({ where: { jobId }, transaction })).map((row) => row.name));
      await CrewMemberRow.create({ id, jobId, name: freeName(name, names, 60), role, personId }, { transaction });
    }
  }
}

/** Two jobs of one name could not be told apart in the list. Last of all, since others wait meanwhile who begin or name a job. */
async function takeFreeName(
  sequelize: Sequelize,
  job: { id: string; name: string },
  transaction: Transaction,
): Promise<void> {
  await advisoryLock(sequelize, 'jobNames', transaction);
  const others = await JobRow.findAll({ attributes: ['name'], where: { id: { [Op.ne]: job.id } }, transaction });
  job.name = freeName(job.name, new Set(others.map(({ name }) => name)), longestName);
  await JobRow.update({ name: job.name }, { where: { id: job.id }, transaction });
}

/** Who brings a job leads it. Nobody in the file is them, whatever their name: a person is no name. */
async function leadBy(jobId: string, personId: string, transaction: Transaction): Promise<void> {
  const person = await PersonRow.findByPk(personId, { transaction, rejectOnEmpty: true });
  const names = new Set((await CrewMemberRow.findAll({ where: { jobId }, transaction })).map((row) => row.name));
  await CrewMemberRow.create(
    { jobId, name: freeName(person.name, names, 60), personId, role: 'lead' },
    { transaction },
  );
}
