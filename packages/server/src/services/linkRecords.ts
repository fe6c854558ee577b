import type { Air } from '@kivram/contract/entities/air';
import type { Licence } from '@kivram/contract/entities/law';
import type { Link } from '@kivram/contract/entities/link';
import type { Obstacle } from '@kivram/contract/entities/obstacle';
import type { Place } from '@kivram/contract/entities/place';
import type { LinkEnd, LinkTerrain } from '@kivram/contract/views/link';
import { planOf } from '@kivram/core/budget/plan';
import { tryPredict, type LinkPrediction } from '@kivram/core/budget/prediction';
import type { ClimateChoice } from '@kivram/core/propagation/climate';
import { lawInJob } from '@kivram/core/spectrum/jobLaw';
import { lawOf, type RuleSet } from '@kivram/core/spectrum/ruleSet';
import { localDay } from '@kivram/core/units/moment';
import { setImmediate } from 'node:timers/promises';
import { Op, QueryTypes, type Sequelize } from 'sequelize';
import { AirRow } from '../database/models/air';
import { GearModelRow } from '../database/models/gearModel';
import { JobRow } from '../database/models/job';
import { LinkRow } from '../database/models/link';
import { PlaceRow } from '../database/models/place';
import { RadioRow } from '../database/models/radio';
import { SheetRow } from '../database/models/sheet';
import type { TerrainFileRow } from '../database/models/terrainFile';
import { notFound } from '../http/apiProblem';
import { terrainShelf } from '../terrain/shelf';
import { lawInForce, notedLaw } from './law';
import { obstaclesOf } from './obstacles';
import { viewAir, viewLinkRow, viewPlace, viewRadio, viewSheetRevision } from './rowViews';
import { siteOf, type JobSite } from './sites';

/** Links that are computed before other requests get their turn. */
export const linksATurn = 10;

/** Everything that a link is computed from, in the shape of core's records. */
export interface LinkRecord {
  job: JobRow;
  link: Link;
  air: Air;
  near: LinkEnd;
  far: LinkEnd;
  law: RuleSet | null;
  /** that a licensed pair is planned by */
  licence: Licence | null;
  /** today, as in 2026-01-31 */
  day: string;
  /** those of the job that a licensed pair can be planned by */
  licences: readonly Licence[];
  /** that and those of the countries that radios are told they stand in */
  laws: readonly RuleSet[];
  terrain: LinkTerrain | null;
  climate: ClimateChoice;
  /** what the job's site has already */
  site: JobSite;
}

export async function loadLink(linkId: string): Promise<LinkRecord> {
  return (await loadWithSharers(linkId)).record;
}

/** A link with all links of its air, itself among them. */
export async function loadWithSharers(linkId: string): Promise<{ record: LinkRecord; onAir: LinkRecord[] }> {
  const link = await LinkRow.findByPk(linkId);
  if (!link) throw notFound('link');
  const records = await loadAirs(link.jobId, [link.airId]);
  const record = records.find((r) => r.link.id === linkId);
  if (!record) throw notFound('link');
  return { record, onAir: records };
}

/**
 * All links of some airs of one job, in a handful of queries however many they are. A link that somebody removes between these queries is left out, as one that is removed
 * before them.
 */
export async function loadAirs(jobId: string, airIds: readonly string[]): Promise<LinkRecord[]> {
  const links = await LinkRow.findAll({ where: { airId: [...airIds] }, order: [['name', 'ASC']] });
  const radioIds = [...new Set(links.flatMap((l) => [l.nearRadioId, l.farRadioId]))];
  const [job, airs, radios, sheets, noted, obstacles, site] = await Promise.all([
    JobRow.findByPk(jobId),
    AirRow.findAll({ where: { id: [...airIds] } }),
    RadioRow.findAll({ where: { id: radioIds } }),
    latestSheets(radioIds),
    notedLaw(jobId),
    obstaclesOf(jobId),
    siteOf(jobId),
  ]);
  if (!job) return [];
  const countries = [...new Set([job.country, ...sheets.map((s) => s.country)])];
  const [places, models, files, national] = await Promise.all([
    PlaceRow.findAll({ where: { id: [...new Set(radios.map((r) => r.placeId))] } }),
    GearModelRow.findAll({ where: { [Op.or]: modelsOf(radios) } }),
    terrainShelf.files(),
    lawInForce(countries),
  ]);
  const day = localDay(new Date());
  const law = lawInJob(lawOf(national, job.country) ?? null, job.country, noted.localRules, day);
  const laws = [...(law ? [law] : []), ...national.filter((set) => set.country !== job.country)];
  const air = new Map(airs.map((a) => [a.id, viewAir(a)]));
  const radio = new Map(radios.map((r) => [r.id, r]));
  const place = new Map(places.map((p) => [p.id, viewPlace(p)]));
  const model = new Map(models.map((m) => [`${m.id} ${m.revision}`, m.spec]));
  const sheet = new Map(sheets.map((s) => [s.radioId, viewSheetRevision(s)]));
  const end = (radioId: string): LinkEnd | null => {
    const row = radio.get(radioId);
    const at = row && place.get(row.placeId);
    const spec = row && model.get(`${row.modelId} ${row.modelRevision}`);
    if (!at || !spec) return null;
    return {
      radio: viewRadio(row),
      place: at,
      model: spec,
      sheet: sheet.get(radioId) ?? null,
      otherStations: links.filter((l) => l.nearRadioId === radioId || l.farRadioId === radioId).length - 1,
    };
  };
  const records: LinkRecord[] = [];
  for (const row of links) {
    if (records.length % linksATurn === linksATurn - 1) await setImmediate();
    const [near, far, airOfLink] = [end(row.nearRadioId), end(row.farRadioId), air.get(row.airId)];
    if (!near || !far || !airOfLink) continue;
    records.push({
      job,
      link: viewLinkRow(row),
      air: airOfLink,
      near,
      far,
      law,
      licence: noted.licences.find((l) => l.id === airOfLink.licenceId) ?? null,
      licences: noted.licences,
      day,
      laws,
      site,
      climate: { class: job.climateClass ?? null, rainMmPerH: job.rainMmPerH ?? null },
      terrain: row.pathKind === 'shaft' ? null : await terrainOf(near.place, far.place, obstacles, files),
    });
  }
  return records;
}

/** The spec sheets of some radios, each once. */
export function modelsOf(
  radios: readonly Pick<RadioRow, 'modelId' | 'modelRevision'>[],
): { id: string; revision: number }[] {
  const pairs = new Map(
    radios.map(({ modelId, modelRevision }) => [`${modelId} ${modelRevision}`, { modelId, modelRevision }]),
  );
  return [...pairs.values()].map(({ modelId, modelRevision }) => ({ id: modelId, revision: modelRevision }));
}

/** The ground between two places with what stands on it this year; its heights are null where no terrain is known. */
async function terrainOf(
  near: Place,
  far: Place,
  obstacles: Obstacle[],
  files: TerrainFileRow[],
): Promise<LinkTerrain> {
  const profile = await terrainShelf.profile(near, far, files);
  return { profile, obstacles, year: new Date().getFullYear() };
}

/** The latest sheet of each of these radios that has one. */
export async function latestSheets(radioIds: readonly string[]): Promise<SheetRow[]> {
  if (!radioIds.length) return [];
  const sequelize = SheetRow.sequelize as Sequelize;
  return sequelize.query(
    'SELECT DISTINCT ON (radio_id) * FROM sheet WHERE radio_id IN (:radioIds) ORDER BY radio_id, revision DESC',
    { type: QueryTypes.SELECT, replacements: { radioIds: [...radioIds] }, model: SheetRow, mapToModel: true },
  );
}

const predictions = new WeakMap<LinkRecord, ReturnType<typeof tryPredict>>();

/** The prediction of a record, computed once. */
export function predictionOf(record: LinkRecord): {
  prediction: LinkPrediction | null;
  predictionError: string | null;
} {
  const known = predictions.get(record) ?? tryPredict(planOf(record));
  predictions.set(record, known);
  return known;
}
