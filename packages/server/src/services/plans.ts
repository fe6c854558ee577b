import type { LinkPlanBody, MountBody, NewEnd, NewLinkBody, RadioBody } from '@kivram/contract';
import { channelCentresMHz, channelFits, checkShaft, ends, type End, type Model } from '@kivram/core';
import type { Sequelize, Transaction } from 'sequelize';
import { GearModelRow, JobRow, LinkRow, PlaceRow, RadioRow } from '../database/models';
import { ApiProblem, notFound } from '../http/problem';
import { defined, differing, lockVersion, sentence } from './changes';
import { noteEvent } from './events';
import { groundAt } from './ground';
import { loadLink } from './links';

/** Making and changing links, places and radios. */
export class Plans {
  constructor(private readonly sequelize: Sequelize) {}

  /** @returns the new link's id */
  async create(jobId: string, body: NewLinkBody): Promise<string> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    return this.sequelize.transaction(async (transaction) => {
      const near = await makeRadio(jobId, body.near, transaction);
      const far = await makeRadio(jobId, body.far, transaction);
      if (near.placeId === far.placeId) {
        throw new ApiProblem(422, 'Not possible', 'Both ends are at the same place. Choose two places.');
      }
      const models = await modelsOf(near, far, transaction);
      checkGear({ ...body, nearConductedDbm: body.near.conductedDbm, farConductedDbm: body.far.conductedDbm }, models);
      const link = await LinkRow.create(
        {
          jobId,
          name: body.name,
          nearRadioId: near.id,
          farRadioId: far.id,
          duplex: models.near.band === 'licensed' ? 'fdd' : 'tdd',
          ...shaftOf(body),
          centreMHz: body.centreMHz,
          widthMHz: body.widthMHz,
          protocol: body.protocol,
          nearConductedDbm: body.near.conductedDbm,
          farConductedDbm: body.far.conductedDbm,
          needNearToFarMbps: body.needNearToFarMbps,
          needFarToNearMbps: body.needFarToNearMbps,
        },
        { transaction },
      );
      await noteEvent(
        {
          jobId,
          linkId: link.id,
          crewMemberId: body.crewMemberId,
          kind: 'link',
          summary: `Planned the link ${body.name}`,
        },
        transaction,
      );
      return link.id;
    });
  }

  async change(linkId: string, { version, crewMemberId, ...changes }: LinkPlanBody): Promise<void> {
    await this.sequelize.transaction(async (transaction) => {
      const row = await lockVersion(LinkRow, linkId, version, 'plan', transaction);
      const differences = differing(row.get({ plain: true }), changes);
      if (!differences.length) return;
      row.set(defined(changes));
      const radios = await RadioRow.findAll({ where: { id: [row.nearRadioId, row.farRadioId] }, transaction });
      const radio = (id: string): RadioRow => radios.find((r) => r.id === id) as RadioRow;
      checkGear(row, await modelsOf(radio(row.nearRadioId), radio(row.farRadioId), transaction));
      if (row.pathKind === 'shaft') checkRange(row.shaftLeastM ?? NaN, row.shaftMostM ?? NaN);
      await row.save({ transaction });
      await noteEvent(
        {
          jobId: row.jobId,
          linkId,
          crewMemberId,
          kind: 'plan',
          summary: `Changed the plan: ${sentence(differences)}`,
          detail: { differences },
        },
        transaction,
      );
    });
  }

  async changeRadio(radioId: string, { version, crewMemberId, ...changes }: RadioBody): Promise<RadioRow> {
    return this.sequelize.transaction(async (transaction) => {
      const row = await lockVersion(RadioRow, radioId, version, 'radio', transaction);
      const differences = differing(row.get({ plain: true }), changes);
      if (!differences.length) return row;
      await row.update(changes, { transaction });
      await noteEvent(
        {
          jobId: row.jobId,
          crewMemberId,
          kind: 'plan',
          summary: `Changed a radio: ${sentence(differences)}`,
          detail: { radioId, differences },
        },
        transaction,
      );
      return row;
    });
  }

  async mount(linkId: string, body: MountBody): Promise<void> {
    const { row, ...loaded } = await loadLink(linkId);
    await this.sequelize.transaction(async (transaction) => {
      const place = loaded[body.end].place.name;
      await row.update({ [`${body.end}MountedAt`]: body.mounted ? new Date() : null }, { transaction });
      await noteEvent(
        {
          jobId: row.jobId,
          linkId,
          crewMemberId: body.crewMemberId,
          kind: 'mount',
          summary: body.mounted
            ? `Mounted the ${body.end} end at ${place}, cautions read`
            : `Took the ${body.end} end at ${place} down`,
          detail: { end: body.end, mounted: body.mounted },
        },
        transaction,
      );
    });
  }
}

async function makeRadio(jobId: string, end: NewEnd, transaction: Transaction): Promise<RadioRow> {
  const model = await GearModelRow.findByPk(end.modelId, { transaction });
  if (!model)
    throw new ApiProblem(422, 'Not possible', `There is no gear model "${end.modelId}". Choose one from the list.`);
  const place = end.place
    ? await PlaceRow.create(
        { ...end.place, groundHeightM: end.place.groundHeightM ?? (await groundAt(end.place)), jobId },
        { transaction },
      )
    : await PlaceRow.findByPk(end.placeId, { transaction });
  if (!place || place.jobId !== jobId) throw notFound('place');
  return RadioRow.create(
    { jobId, placeId: place.id, modelId: end.modelId, mountHeightM: end.mountHeightM },
    { transaction },
  );
}

type Models = Record<End, Model>;

async function modelsOf(near: RadioRow, far: RadioRow, transaction: Transaction): Promise<Models> {
  const spec = async ({ modelId }: RadioRow): Promise<Model> =>
    (await GearModelRow.findByPk(modelId, { transaction, rejectOnEmpty: true })).spec;
  return { near: await spec(near), far: await spec(far) };
}

type AirPlan = Pick<LinkRow, 'centreMHz' | 'widthMHz' | 'nearConductedDbm' | 'farConductedDbm'>;

/** Refuses powers, widths and channels that the gear has not got. */
function checkGear(plan: AirPlan, models: Models): void {
  const refuse = (detail: string): never => {
    throw new ApiProblem(422, 'Not possible', detail);
  };
  const { centreMHz, widthMHz } = plan;
  for (const end of ends) {
    const { name, band, lowestMHz, highestMHz, widthsMHz, leastConductedDbm, mostConductedDbm } = models[end];
    const conductedDbm = plan[`${end}ConductedDbm`];
    if (conductedDbm < leastConductedDbm || conductedDbm > mostConductedDbm) {
      refuse(`${name} sends ${leastConductedDbm} to ${mostConductedDbm} dBm; ${conductedDbm} dBm is outside.`);
    }
    if (!channelFits(plan, lowestMHz, highestMHz)) {
      refuse(
        `${name} tunes from ${lowestMHz} to ${highestMHz} MHz; ${centreMHz} MHz, ${widthMHz} MHz wide, lies outside. Choose a channel from the list.`,
      );
    }
    if (!widthsMHz.includes(widthMHz)) {
      refuse(`${name} has no channel width of ${widthMHz} MHz, only ${widthsMHz.join(', ')}.`);
    }
    if (band !== 'licensed' && !channelCentresMHz(band, widthMHz).includes(centreMHz)) {
      refuse(`There is no ${widthMHz} MHz channel centred on ${centreMHz} MHz. Choose a channel from the list.`);
    }
  }
}

function shaftOf({ pathKind, shaftLeastM, shaftMostM }: NewLinkBody) {
  if (pathKind !== 'shaft') return {};
  checkRange(shaftLeastM ?? NaN, shaftMostM ?? NaN);
  return { pathKind, shaftLeastM, shaftMostM };
}

function checkRange(leastM: number, mostM: number): void {
  try {
    checkShaft({ leastM, mostM });
  } catch (error) {
    throw new ApiProblem(422, 'Not possible', error instanceof Error ? error.message : String(error));
  }
}
