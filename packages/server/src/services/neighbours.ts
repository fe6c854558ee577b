import { needLoad } from '@kivram/core/budget/airPrediction';
import { airsOverlap, heardAirs, type HeardAir, type NeighbourLink } from '@kivram/core/budget/neighbours';
import { planOf, radioPlanOf, type End, type EndRecord, type PlanNeed, type RadioPlan } from '@kivram/core/budget/plan';
import { setImmediate } from 'node:timers/promises';
import { Op, QueryTypes, type Sequelize } from 'sequelize';
import { GearModelRow } from '../database/models/gearModel';
import { LinkRow } from '../database/models/link';
import type { LinkMemo } from '../database/models/linkMemo';
import { linksATurn, loadAirs, modelsOf, predictionOf, type LinkRecord } from './linkRecords';

/** The loudest of the other airs that are looked at, for each link. */
const mostHeard = 12;

/**
 * The other airs of the job that each of some links hears: the loudest of those whose channels overlap with its own.
 * @param isTried whether other channels are tried too: then the loudest of all others are added
 */
export async function heardBy(
  jobId: string,
  records: readonly LinkRecord[],
  isTried: boolean,
): Promise<Map<string, HeardAir[]>> {
  const others = await linksOfJob(jobId);
  const heard = new Map<string, ReturnType<typeof heardAirs>>();
  if (others.length)
    for (const record of records) {
      if (heard.size % linksATurn === linksATurn - 1) await setImmediate();
      const own = record.air;
      const loudest = (isWanted: (other: NeighbourLink) => boolean): ReturnType<typeof heardAirs> => {
        const wanted = others.filter((other) => other.airId !== own.id && isWanted(other));
        return wanted.length ? (unlessBad(() => heardAirs(planOf(record), wanted)) ?? []).slice(0, mostHeard) : [];
      };
      const beside = isTried ? loudest((other) => !airsOverlap(own, other.air)) : [];
      heard.set(record.link.id, [...loudest((other) => airsOverlap(own, other.air)), ...beside]);
    }
  const loads = await loadsOf(
    jobId,
    records,
    others,
    new Set([...heard.values()].flatMap((airs) => airs.map((a) => a.airId))),
  );
  return new Map(
    [...heard].map(([linkId, airs]) => [
      linkId,
      airs.map((air): HeardAir => ({ ...air, load: loads.get(air.airId) ?? 0 })),
    ]),
  );
}

/**
 * The share of its time that each air needs: of what is loaded as it is planned now, of the others as they were computed last, and computed where they never were.
 */
async function loadsOf(
  jobId: string,
  records: readonly LinkRecord[],
  others: readonly JobNeighbour[],
  airIds: ReadonlySet<string>,
): Promise<Map<string, number>> {
  const loaded = new Set(records.map(({ air }) => air.id));
  const remembered = others.filter(({ airId }) => airIds.has(airId) && !loaded.has(airId));
  const unknown = [...new Set(remembered.filter(({ aloneMbps }) => !aloneMbps).map(({ airId }) => airId))];
  const computed = unknown.length ? await loadAirs(jobId, unknown) : [];
  const loads = new Map<string, number>();
  const add = (airId: string, load: number): void =>
    void loads.set(airId, (loads.get(airId) ?? 0) + (Number.isFinite(load) ? load : 0));
  for (const record of [...records, ...computed]) {
    const prediction = unlessBad(() => predictionOf(record).prediction);
    if (airIds.has(record.air.id) && prediction) add(record.air.id, needLoad(prediction, needOf(record)));
  }
  for (const { airId, aloneMbps, need } of remembered) {
    if (!aloneMbps || unknown.includes(airId)) continue;
    const { nearToFar, farToNear } = aloneMbps;
    const alone = { nearToFar: { aloneMbps: nearToFar }, farToNear: { aloneMbps: farToNear } };
    add(airId, needLoad(alone, need));
  }
  return loads;
}

function needOf({ link }: LinkRecord): Pick<PlanNeed, 'nearToFarMbps' | 'farToNearMbps'> {
  return { nearToFarMbps: link.needNearToFarMbps, farToNearMbps: link.needFarToNearMbps };
}

/** A link as others hear it, with what it needs and what was computed of it last. */
interface JobNeighbour extends NeighbourLink {
  need: Pick<PlanNeed, 'nearToFarMbps' | 'farToNearMbps'>;
  aloneMbps: LinkMemo['aloneMbps'] | null;
}

interface NeighbourRow extends Omit<JobNeighbour, End> {
  near: StoredEnd;
  far: StoredEnd;
}

interface StoredEnd {
  place: EndRecord['place'];
  radio: EndRecord['radio'] & { modelId: string; modelRevision: number };
}

/** Every link of a job over the ground, in two queries; none where one air is all there is. */
async function linksOfJob(jobId: string): Promise<JobNeighbour[]> {
  const sequelize = LinkRow.sequelize as Sequelize;
  const end = (radio: string, place: string): string => `jsonb_build_object(
    'place', jsonb_build_object('latitudeDeg', ${place}.latitude_deg, 'longitudeDeg', ${place}.longitude_deg, 'groundHeightM', ${place}.ground_height_m),
    'radio', jsonb_build_object('modelId', ${radio}.model_id, 'modelRevision', ${radio}.model_revision, 'mountHeightM', ${radio}.mount_height_m, 'role', ${radio}.role,
      'conductedDbm', ${radio}.conducted_dbm, 'cableLossDb', ${radio}.cable_loss_db, 'cable', ${radio}.cable, 'aimOffDeg', ${radio}.aim_off_deg,
      'interferenceDb', ${radio}.interference_db, 'polarisation', ${radio}.polarisation, 'azimuthDeg', ${radio}.azimuth_deg, 'tiltDeg', ${radio}.tilt_deg))`;
  const rows = await sequelize.query<NeighbourRow>(
    `SELECT l.name, l.air_id AS "airId", jsonb_build_object('nearToFarMbps', l.need_near_to_far_mbps, 'farToNearMbps', l.need_far_to_near_mbps) AS need, m.memo -> 'aloneMbps' AS "aloneMbps",
       jsonb_build_object('kind', a.kind, 'centreMHz', a.centre_mhz, 'returnMHz', a.return_mhz, 'widthMHz', a.width_mhz, 'protocol', a.protocol,
         'errorCorrection', a.error_correction) AS air, ${end('nr', 'np')} AS near, ${end('fr', 'fp')} AS far
     FROM link l JOIN air a ON a.id = l.air_id LEFT JOIN link_memo m ON m.link_id = l.id
     JOIN radio nr ON nr.id = l.near_radio_id JOIN place np ON np.id = nr.place_id
     JOIN radio fr ON fr.id = l.far_radio_id JOIN place fp ON fp.id = fr.place_id
     WHERE l.job_id = :jobId AND l.path_kind = 'outdoor' AND (SELECT count(*) FROM air WHERE job_id = :jobId) > 1 ORDER BY l.name, l.id`,
    { type: QueryTypes.SELECT, replacements: { jobId } },
  );
  if (!rows.length) return [];
  const specs = await GearModelRow.findAll({
    where: { [Op.or]: modelsOf(rows.flatMap(({ near, far }) => [near.radio, far.radio])) },
  });
  const model = new Map(specs.map((m) => [`${m.id} ${m.revision}`, m.spec]));
  const planned = ({ place, radio }: StoredEnd): RadioPlan | null => {
    const spec = model.get(`${radio.modelId} ${radio.modelRevision}`);
    return spec ? radioPlanOf({ place, radio, model: spec }) : null;
  };
  return rows.flatMap((row): JobNeighbour[] => {
    const [near, far] = [planned(row.near), planned(row.far)];
    const link = near && far && { ...row, near, far };
    // Tried on itself: what cannot be reckoned is not heard by others.
    return link && unlessBad(() => heardAirs(link, [link])) ? [link] : [];
  });
}

/** A record that cannot be reckoned says nothing here, and stops nothing else. */
function unlessBad<Result>(reckon: () => Result): Result | undefined {
  try {
    return reckon();
  } catch {
    return undefined;
  }
}
