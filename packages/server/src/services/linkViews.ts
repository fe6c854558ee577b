import type { Place } from '@kivram/contract/entities/place';
import type { LinksOnAirView, ExpectedRates, LinkEnd, LinkView, PlannedLink } from '@kivram/contract/views/link';
import { Op } from 'sequelize';
import { AlignmentRow } from '../database/models/alignment';
import { PlaceRow } from '../database/models/place';
import { ThroughputTestRow } from '../database/models/throughputTest';
import { alternativesOf, viewAlternative } from './alternatives';
import { summariseAlignment } from './alignmentViews';
import { landmarkFor } from './landmarks';
import { heardBy } from './neighbours';
import { loadWithSharers, predictionOf, type LinkRecord } from './linkRecords';
import { doneOn, othersLoadOf, recordBasis, sharedOf, stateOf } from './linkStates';
import { viewPlace, viewTest } from './rowViews';
import { loginsOf } from './logins';
import { hidden } from './sheets';
import { siteFor } from './sites';

/** A link with everything that a page needs to compute on it. */
export async function viewLink(linkId: string): Promise<LinkView> {
  const { record, onAir } = await loadWithSharers(linkId);
  const { job, link, air, near, far, law, laws, terrain } = record;
  const [done, neighbours, others, running, tests, logins, alternatives] = await Promise.all([
    doneOn([linkId]),
    heardBy(job.id, [record], true),
    PlaceRow.findAll({
      where: { jobId: job.id, id: { [Op.notIn]: [near.place.id, far.place.id] } },
      order: [['name', 'ASC']],
    }),
    AlignmentRow.findOne({ where: { linkId, state: 'running' } }),
    ThroughputTestRow.findAll({ where: { linkId }, order: [['at', 'DESC']], attributes: { exclude: ['raw'] } }),
    loginsOf([near.radio.id, far.radio.id]),
    alternativesOf([linkId]),
  ]);
  const finished = done.alignment.get(linkId);
  const heard = neighbours.get(linkId) ?? [];
  return {
    link,
    air,
    country: job.country,
    practice: job.practice,
    law,
    licence: record.licence,
    day: record.day,
    licences: air.kind === 'duplex' ? [...record.licences] : [],
    laws: [...laws],
    near: withoutSecrets(near),
    far: withoutSecrets(far),
    logins: { near: logins.get(near.radio.id) ?? null, far: logins.get(far.radio.id) ?? null },
    sharers: onAir.filter((r) => r !== record).map((r) => ({ id: r.link.id, name: r.link.name })),
    shared: sharedOf(record, onAir),
    distanceM: predictionOf(record).prediction?.distanceM ?? null,
    expected: expectedOf(record),
    othersLoad: othersLoadOf(record, onAir),
    climate: record.climate,
    terrain,
    site: siteFor(record.site, [near.radio.id, far.radio.id]),
    alternatives: alternatives.map(viewAlternative),
    landmarks: await landmarksOf(record, others.map(viewPlace)),
    state: stateOf(record, onAir, done, heard),
    heard,
    basis: recordBasis(record),
    alignment: finished ? summariseAlignment(finished) : null,
    running: running && summariseAlignment(running),
    tests: tests.map(viewTest),
  };
}

/** All links of the air that a link is on, as planned. */
export async function viewAir(linkId: string): Promise<LinksOnAirView> {
  const { onAir } = await loadWithSharers(linkId);
  const end = ({ place, radio, model }: LinkEnd): PlannedLink['near'] => ({ place, radio, model });
  return {
    links: onAir.map(({ link, air, law, licence, day, terrain, climate, near, far }) => ({
      link,
      air,
      law,
      licence,
      day,
      terrain,
      climate,
      near: end(near),
      far: end(far),
    })),
  };
}

/** What a speed test is held against. */
function expectedOf(record: LinkRecord): LinkView['expected'] {
  const { prediction } = predictionOf(record);
  if (!prediction) return null;
  const rates = ({ aloneMbps, bothMbps }: ExpectedRates): ExpectedRates => ({ aloneMbps, bothMbps });
  return { nearToFar: rates(prediction.nearToFar), farToNear: rates(prediction.farToNear) };
}

/** An end as it may be shown to whoever may read: the passphrase has something else stand for it. */
function withoutSecrets(end: LinkEnd): LinkEnd {
  return end.sheet ? { ...end, sheet: { ...end.sheet, sheet: hidden(end.sheet.sheet) } } : end;
}

/** A shaft points straight up and down: nothing to aim by. */
async function landmarksOf(record: LinkRecord, places: Place[]): Promise<LinkView['landmarks']> {
  const { prediction } = predictionOf(record);
  if (!prediction || prediction.ride) return { near: null, far: null };
  const [near, far] = await Promise.all([
    landmarkFor(record.near, prediction.near, places),
    landmarkFor(record.far, prediction.far, places),
  ]);
  return { near, far };
}
