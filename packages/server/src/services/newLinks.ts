import type { NewEnd, NewLinkBody } from '@kivram/contract/requests/newLink';
import type { Air, AirKind, AirRole } from '@kivram/core/air/air';
import { ends, type End } from '@kivram/core/budget/plan';
import type { Model } from '@kivram/core/gear/model';
import { solveGeodesic } from '@kivram/core/geodesy/geodesic';
import type { Sequelize, Transaction } from 'sequelize';
import { AirRow } from '../database/models/air';
import { GearModelRow } from '../database/models/gearModel';
import { JobRow } from '../database/models/job';
import { LinkRow } from '../database/models/link';
import { PlaceRow } from '../database/models/place';
import { RadioRow } from '../database/models/radio';
import type { Author } from '../http/author';
import { ApiProblem, notFound } from '../http/apiProblem';
import { checkWholeAir } from './airs';
import { makeChange, type Change } from './changes';
import { checkAir, checkRide, notPossible } from './gearChecks';
import { checkLicenceOf } from './jobLaw';
import { groundAt } from './ground';

/** What stands at an end before the link is made: a radio that is there, or a place and a model for a new one. */
interface EndSite {
  radio: RadioRow | null;
  place: { id: string };
  model: Model;
  modelRevision: number;
}

/** Makes links: on an air of their own, or on the air of a hub's or a relay's radio that they join. */
export class NewLinks {
  constructor(private readonly sequelize: Sequelize) {}

  /** @returns the new links' ids, in their order */
  async create(jobId: string, bodies: readonly NewLinkBody[], author: Author): Promise<string[]> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    // What the terrain knows is read before: a transaction does not wait for other work.
    const grounds: Record<End, number | undefined>[] = [];
    for (const body of bodies) {
      if (body.pathKind === 'shaft') checkRide(body.shaftLeastM, body.shaftMostM);
      grounds.push({ near: await groundOf(body.near), far: await groundOf(body.far) });
    }
    return makeChange(this.sequelize, jobId, author, async (change) => {
      const made: Made = { links: [], places: new Map() };
      for (const [i, body] of bodies.entries()) {
        try {
          made.links.push(await makeLink(jobId, body, grounds[i] ?? {}, made, change));
        } catch (error) {
          // Of several, say which.
          if (error instanceof ApiProblem && bodies.length > 1)
            throw new ApiProblem(error.status, error.title, `${body.name}: ${error.message}`, error.errors);
          throw error;
        }
      }
      return made.links.map((link) => link.id);
    });
  }
}

/** What a list of links has made so far. */
interface Made {
  links: LinkRow[];
  /** new places by their names */
  places: Map<string, PlaceRow>;
}

async function makeLink(
  jobId: string,
  body: NewLinkBody,
  grounds: Partial<Record<End, number>>,
  made: Made,
  { transaction, note }: Change,
): Promise<LinkRow> {
  const sites = {
    near: await siteOf(jobId, body.near, grounds.near, made, transaction),
    far: await siteOf(jobId, body.far, grounds.far, made, transaction),
  };
  await refuseOnePosition(sites, body.pathKind === 'shaft', transaction);
  const air = await airFor(jobId, body, sites, transaction);
  const radios = {
    near: await radioFor(jobId, air, 'near', sites.near, body, transaction),
    far: await radioFor(jobId, air, 'far', sites.far, body, transaction),
  };
  await checkWholeAir(air.id, transaction);
  const { name, pathKind, shaftLeastM, shaftMostM, needNearToFarMbps, needFarToNearMbps } = body;
  const link = await LinkRow.create(
    {
      jobId,
      airId: air.id,
      name,
      nearRadioId: radios.near.id,
      farRadioId: radios.far.id,
      needNearToFarMbps,
      needFarToNearMbps,
      ...(pathKind === 'shaft' && { pathKind, shaftLeastM, shaftMostM }),
    },
    { transaction },
  );
  await note({ linkId: link.id, kind: 'link', summary: `Planned the link ${name}` });
  return link;
}

/** The height of the ground at a new place that brings none. */
async function groundOf({ place }: NewEnd): Promise<number | undefined> {
  return place && (place.groundHeightM ?? (await groundAt(place)));
}

async function siteOf(
  jobId: string,
  end: NewEnd,
  groundHeightM: number | undefined,
  made: Made,
  transaction: Transaction,
): Promise<EndSite> {
  const radioId = end.sameAs ? made.links[end.sameAs.link]?.[`${end.sameAs.end}RadioId`] : end.radioId;
  if (end.sameAs && !radioId)
    throw notPossible(
      `Its radio is to be that of link ${end.sameAs.link + 1}, which does not stand before it in the list.`,
    );
  if (radioId) {
    const radio = await RadioRow.findOne({ where: { id: radioId, jobId }, transaction });
    if (!radio) throw notFound('radio');
    const gear = await GearModelRow.findOne({
      where: { id: radio.modelId, revision: radio.modelRevision },
      transaction,
      rejectOnEmpty: true,
    });
    return { radio, place: { id: radio.placeId }, model: gear.spec, modelRevision: gear.revision };
  }
  const gear = await GearModelRow.findOne({
    where: { id: end.modelId, offered: true },
    order: [['revision', 'DESC']],
    transaction,
  });
  if (!gear) throw notPossible(`There is no gear model "${end.modelId ?? ''}". Choose one from the list.`);
  const place = end.place
    ? (made.places.get(end.place.name) ??
      (await PlaceRow.create({ ...end.place, groundHeightM: groundHeightM ?? 0, jobId }, { transaction })))
    : // Held, so that nobody makes it a landmark, or takes it off the map, before the radio stands there.
      await PlaceRow.findByPk(end.placeId, { transaction, lock: transaction.LOCK.SHARE });
  if (!place || place.jobId !== jobId) throw notFound('place');
  if (end.place) made.places.set(end.place.name, place);
  if (place.kind === 'landmark') throw notPossible(`${place.name} is a landmark: make it a site first.`);
  return { radio: null, place: { id: place.id }, model: gear.spec, modelRevision: gear.revision };
}

/** Ends nearer than this are one place under two names. */
const leastApartM = 1;

/** Only a shaft goes straight up from where it stands. */
async function refuseOnePosition(
  { near, far }: Record<End, EndSite>,
  isShaft: boolean,
  transaction: Transaction,
): Promise<void> {
  if (near.place.id === far.place.id) throw notPossible('Both ends are at the same place. Choose two places.');
  if (isShaft) return;
  const a = await PlaceRow.findByPk(near.place.id, { transaction, rejectOnEmpty: true });
  const b = await PlaceRow.findByPk(far.place.id, { transaction, rejectOnEmpty: true });
  if (solveGeodesic(a, b).distanceM < leastApartM) {
    throw notPossible(`${a.name} and ${b.name} are at one position: move one of them at least ${leastApartM} m.`);
  }
}

/** The air of a link: that of the radio it joins, which may become a hub by that, or a new one. */
async function airFor(
  jobId: string,
  body: NewLinkBody,
  sites: Record<End, EndSite>,
  transaction: Transaction,
): Promise<AirRow> {
  const joined = sites.near.radio ?? sites.far.radio;
  if (joined) {
    if (sites.near.radio && sites.far.radio && sites.near.radio.airId !== sites.far.radio.airId) {
      throw notPossible('These two radios stand on two airs, and a radio has only one. Take a new radio at one end.');
    }
    const air = await AirRow.findByPk(joined.airId, { transaction, lock: true, rejectOnEmpty: true });
    if (air.kind === 'duplex') throw notPossible('A licensed pair has two ends and no room for a third.');
    if (air.kind === 'pair') await widen(air, joined, transaction);
    return air;
  }
  const licensed = sites.near.model.band === 'licensed';
  const kind: AirKind = body.airKind ?? (licensed ? 'duplex' : 'pair');
  const plan: Air = {
    kind,
    centreMHz: body.centreMHz ?? 0,
    returnMHz: body.returnMHz ?? null,
    widthMHz: body.widthMHz ?? 0,
    protocol: body.protocol ?? '802.11',
    errorCorrection: body.errorCorrection ?? false,
    licenceId: body.licenceId ?? null,
  };
  await checkLicenceOf(jobId, plan.licenceId, transaction);
  const uses = ends.map((end) => ({
    model: sites[end].model,
    role: roleOf(kind, end, false),
    conductedDbm: body[end].conductedDbm ?? 0,
  }));
  checkAir(plan, uses);
  return AirRow.create({ ...plan, jobId }, { transaction });
}

/** A pair that takes another station becomes a hub around the radio that both share. */
async function widen(air: AirRow, around: RadioRow, transaction: Transaction): Promise<void> {
  if (around.role !== 'access') {
    const before = await RadioRow.findOne({ where: { airId: air.id, role: 'access' }, transaction });
    await before?.update({ role: 'station' }, { transaction });
    await around.update({ role: 'access' }, { transaction });
  }
  await air.update({ kind: 'hub' }, { transaction });
}

async function radioFor(
  jobId: string,
  air: AirRow,
  end: End,
  { radio, place, model, modelRevision }: EndSite,
  body: NewLinkBody,
  transaction: Transaction,
): Promise<RadioRow> {
  if (radio) return radio;
  const wish = body[end];
  const taken = await RadioRow.count({ where: { airId: air.id, role: 'access' }, transaction });
  return RadioRow.create(
    {
      jobId,
      airId: air.id,
      role: roleOf(air.kind, end, taken > 0),
      placeId: place.id,
      modelId: model.id,
      modelRevision,
      mountHeightM: wish.mountHeightM ?? 0,
      conductedDbm: wish.conductedDbm ?? 0,
      azimuthDeg: wish.azimuthDeg ?? null,
      tiltDeg: wish.tiltDeg ?? null,
      mac: wish.mac ?? null,
    },
    { transaction },
  );
}

/** The near end of a new air has the feed, and with it the access radio. */
function roleOf(kind: AirKind, end: End, accessTaken: boolean): AirRole {
  if (end === 'near' && !accessTaken) return 'access';
  return kind === 'chain' ? 'relay' : 'station';
}
