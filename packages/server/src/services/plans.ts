import type { LinkPlanBody, MountBody, NewEnd, NewLinkBody, PlaceBody, RadioBody } from '@kivram/contract';
import { channelCentresMHz, channelFits } from '@kivram/core';
import type { Sequelize, Transaction } from 'sequelize';
import { GearModelRow, JobRow, LinkRow, PlaceRow, RadioRow } from '../database/models';
import { ApiProblem, changedMeanwhile, notFound } from '../http/problem';
import { noteEvent } from './events';
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
      const models = await GearModelRow.findAll({ where: { id: [body.near.modelId, body.far.modelId] }, transaction });
      for (const { spec } of models) {
        if (!channelFits(body, spec.lowestMHz, spec.highestMHz)) {
          throw new ApiProblem(
            422,
            'Not possible',
            `${spec.name} tunes from ${spec.lowestMHz} to ${spec.highestMHz} MHz; ${body.centreMHz} MHz, ${body.widthMHz} MHz wide, lies outside. Choose a channel from the list.`,
          );
        }
        if (!spec.widthsMHz.includes(body.widthMHz)) {
          throw new ApiProblem(
            422,
            'Not possible',
            `${spec.name} has no channel width of ${body.widthMHz} MHz, only ${spec.widthsMHz.join(', ')}.`,
          );
        }
        if (spec.band !== 'licensed' && !channelCentresMHz(spec.band, body.widthMHz).includes(body.centreMHz)) {
          throw new ApiProblem(
            422,
            'Not possible',
            `There is no ${body.widthMHz} MHz channel centred on ${body.centreMHz} MHz. Choose a channel from the list.`,
          );
        }
      }
      const link = await LinkRow.create(
        {
          jobId,
          name: body.name,
          nearRadioId: near.id,
          farRadioId: far.id,
          duplex: models[0]?.spec.band === 'licensed' ? 'fdd' : 'tdd',
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
      const row = await LinkRow.findByPk(linkId, { transaction, lock: true });
      if (!row) throw notFound('link');
      if (row.version !== version) throw changedMeanwhile('plan');
      const differences = differing(row.get({ plain: true }), changes);
      if (!differences.length) return;
      await row.update(changes, { transaction });
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

  async changePlace(placeId: string, { version, crewMemberId, ...changes }: PlaceBody): Promise<PlaceRow> {
    return this.sequelize.transaction(async (transaction) => {
      const row = await PlaceRow.findByPk(placeId, { transaction, lock: true });
      if (!row) throw notFound('place');
      if (row.version !== version) throw changedMeanwhile('place');
      const differences = differing(row.get({ plain: true }), changes);
      if (!differences.length) return row;
      await row.update(changes, { transaction });
      await noteEvent(
        {
          jobId: row.jobId,
          crewMemberId,
          kind: 'plan',
          summary: `Moved or renamed ${row.name}: ${sentence(differences)}`,
          detail: { differences },
        },
        transaction,
      );
      return row;
    });
  }

  async changeRadio(radioId: string, { version, crewMemberId, ...changes }: RadioBody): Promise<RadioRow> {
    return this.sequelize.transaction(async (transaction) => {
      const row = await RadioRow.findByPk(radioId, { transaction, lock: true });
      if (!row) throw notFound('radio');
      if (row.version !== version) throw changedMeanwhile('radio');
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
  const { leastConductedDbm, mostConductedDbm, name } = model.spec;
  if (end.conductedDbm < leastConductedDbm || end.conductedDbm > mostConductedDbm) {
    throw new ApiProblem(
      422,
      'Not possible',
      `${name} sends ${leastConductedDbm} to ${mostConductedDbm} dBm; ${end.conductedDbm} dBm is outside.`,
    );
  }
  const place = end.place
    ? await PlaceRow.create({ ...end.place, jobId }, { transaction })
    : await PlaceRow.findByPk(end.placeId, { transaction });
  if (!place || place.jobId !== jobId) throw notFound('place');
  return RadioRow.create(
    { jobId, placeId: place.id, modelId: end.modelId, mountHeightM: end.mountHeightM },
    { transaction },
  );
}

interface Difference {
  field: string;
  before: unknown;
  after: unknown;
}

function differing(before: object, changes: object): Difference[] {
  const old = before as Record<string, unknown>;
  return Object.entries(changes)
    .filter(([field, value]) => value !== undefined && value !== old[field])
    .map(([field, value]) => ({ field, before: old[field], after: value }));
}

function sentence(differences: Difference[]): string {
  return differences.map((d) => `${d.field} ${String(d.before)} to ${String(d.after)}`).join(', ');
}
