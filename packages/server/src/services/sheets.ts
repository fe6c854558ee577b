import type { LinkEnd, SaveSheetsBody } from '@kivram/contract';
import { AddressError, ends, proposeSheets, type AddressPlan, type Sheet } from '@kivram/core';
import { randomBytes } from 'node:crypto';
import { QueryTypes, type Sequelize } from 'sequelize';
import { KnownDeviceRow, NetworkRow, RadioRow, SheetRow } from '../database/models';
import { ApiProblem, changedMeanwhile } from '../http/problem';
import { noteEvent } from './events';
import { loadLink, type LoadedLink } from './links';

/** Settings sheets: proposed, edited by the installer, saved as revisions. */
export class Sheets {
  constructor(private readonly sequelize: Sequelize) {}

  async propose(linkId: string): Promise<{ near: Sheet; far: Sheet }> {
    const loaded = await loadLink(linkId);
    const { row, job, near, far } = loaded;
    const others = await this.sheetsOfOthers(loaded);
    try {
      return proposeSheets(
        {
          jobName: job.name,
          linkName: row.name,
          nearPlace: near.place.name,
          farPlace: far.place.name,
          nearModel: near.model,
          farModel: far.model,
          centreMHz: row.centreMHz,
          widthMHz: row.widthMHz,
          protocol: row.protocol,
          country: job.country,
          nearConductedDbm: row.nearConductedDbm,
          farConductedDbm: row.farConductedDbm,
          network: await this.addressPlan(job.id, others),
          firmware: near.sheet?.sheet.firmware ?? '1.0.0',
          takenNetworkNames: others.map((s) => s.networkName),
        },
        (count) => randomBytes(count),
      );
    } catch (error) {
      if (error instanceof AddressError) throw new ApiProblem(422, 'No address free', error.message);
      throw error;
    }
  }

  /** Saves both sheets as new revisions, where they changed and where nobody saved in between. */
  async save(linkId: string, body: SaveSheetsBody): Promise<void> {
    const loaded = await loadLink(linkId);
    await this.sequelize.transaction(async (transaction) => {
      const changes: Record<string, SheetChange[]> = {};
      for (const end of ends) {
        const view = loaded[end];
        await RadioRow.findByPk(view.radio.id, { transaction, lock: true });
        const last = await SheetRow.findOne({
          where: { radioId: view.radio.id },
          order: [['revision', 'DESC']],
          transaction,
        });
        const known = end === 'near' ? body.nearRevision : body.farRevision;
        if ((last?.revision ?? 0) !== known) throw changedMeanwhile(`${end} end's settings`);
        changes[end] = differences(view, body[end]);
        if (last && !changes[end].length) continue;
        await SheetRow.create(
          { ...body[end], radioId: view.radio.id, revision: known + 1, crewMemberId: body.crewMemberId },
          { transaction },
        );
      }
      const count = ends.reduce((sum, end) => sum + (changes[end]?.length ?? 0), 0);
      if (!count) return;
      await noteEvent(
        {
          jobId: loaded.row.jobId,
          linkId,
          crewMemberId: body.crewMemberId,
          kind: 'settings',
          summary: loaded.near.sheet
            ? `Changed ${count} setting${count > 1 ? 's' : ''}`
            : 'First settings of both ends',
          detail: { changes },
        },
        transaction,
      );
    });
  }

  private async addressPlan(jobId: string, others: Sheet[]): Promise<AddressPlan> {
    const network = await NetworkRow.findOne({ where: { jobId } });
    if (!network)
      throw new ApiProblem(422, 'No network', 'The job has no network yet: say which subnet the site uses.');
    const devices = await KnownDeviceRow.findAll({ where: { networkId: network.id } });
    return {
      subnet: { address: network.subnetAddress, prefix: network.prefix },
      gateway: network.gateway,
      dhcpFirst: network.dhcpFirst,
      dhcpLast: network.dhcpLast,
      taken: [...devices.map((d) => d.address), ...others.map((s) => s.address)],
    };
  }

  /** The latest sheets of the job's other radios: their addresses and names are taken. */
  private async sheetsOfOthers({ job, near, far }: LoadedLink): Promise<Sheet[]> {
    return this.sequelize.query<SheetRow>(
      `SELECT DISTINCT ON (s.radio_id) s.* , s.network_name AS "networkName"
       FROM sheet s JOIN radio r ON r.id = s.radio_id
       WHERE r.job_id = :jobId AND r.id NOT IN (:radios) ORDER BY s.radio_id, s.revision DESC`,
      { type: QueryTypes.SELECT, replacements: { jobId: job.id, radios: [near.radio.id, far.radio.id] } },
    );
  }
}

interface SheetChange {
  field: keyof Sheet;
  before: unknown;
  after: unknown;
}

/** What a save changes at one end; a passphrase's values are not written down. */
function differences(view: LinkEnd, after: Sheet): SheetChange[] {
  const before = view.sheet?.sheet;
  return (Object.keys(after) as (keyof Sheet)[])
    .filter((field) => JSON.stringify(before?.[field] ?? null) !== JSON.stringify(after[field] ?? null))
    .map((field) =>
      field === 'passphrase'
        ? { field, before: before?.passphrase ? 'set' : null, after: after.passphrase ? 'changed' : null }
        : { field, before: before?.[field] ?? null, after: after[field] },
    );
}
