import type { NetworkBody } from '@kivram/contract/requests/job';
import { spokenWord } from '@kivram/contract/storedWords';
import type { SiteNetwork } from '@kivram/contract/views/job';
import { checkNetwork } from '@kivram/core/addressing/network';
import { addressText, subnetRange } from '@kivram/core/addressing/subnet';
import type { Sequelize, Transaction } from 'sequelize';
import { JobRow } from '../database/models/job';
import { KnownDeviceRow } from '../database/models/knownDevice';
import { NetworkRow } from '../database/models/network';
import { PlaceRow } from '../database/models/place';
import { DhcpRangeRow, SubnetRow } from '../database/models/subnet';
import type { Author } from '../http/author';
import { changedMeanwhile, notFound } from '../http/apiProblem';
import { lockJob, makeChange } from './changes';
import { notPossible } from './gearChecks';
import { sameJson } from './sameJson';

/** The network of a job, its subnets in their order. */
export async function networkOf(jobId: string, transaction?: Transaction): Promise<SiteNetwork> {
  const row = await NetworkRow.findOne({ where: { jobId }, transaction });
  if (!row) return { network: null, devices: [] };
  const subnets = await SubnetRow.findAll({
    where: { networkId: row.id },
    order: [['position', 'ASC']],
    transaction,
  });
  const ranges = await DhcpRangeRow.findAll({
    where: { subnetId: subnets.map((s) => s.id) },
    order: [['first', 'ASC']],
    transaction,
  });
  const devices = await KnownDeviceRow.findAll({
    where: { networkId: row.id },
    order: [['address', 'ASC']],
    transaction,
  });
  const { id, feedDownMbps, feedUpMbps, feedPlaceId, version } = row;
  return {
    network: {
      id,
      feedDownMbps,
      feedUpMbps,
      feedPlaceId,
      subnets: subnets.map(({ id: subnetId, name, address, prefix, gateway }) => ({
        name,
        address,
        prefix,
        gateway,
        dhcp: ranges.filter((r) => r.subnetId === subnetId).map(({ first, last }) => ({ first, last })),
      })),
      version,
    },
    devices: devices.map(({ id: deviceId, name, kind, address, mac }) => ({
      id: deviceId,
      name,
      kind,
      address,
      mac: mac ?? null,
    })),
  };
}

type NewNetwork = Omit<NetworkBody, 'version'>;

/** Puts subnets and devices under a network that has none. */
export async function fillNetwork(
  networkId: string,
  body: Pick<NewNetwork, 'subnets' | 'devices'>,
  transaction?: Transaction,
): Promise<void> {
  const into = { transaction };
  for (const [position, { dhcp, ...subnet }] of body.subnets.entries()) {
    const { id: subnetId } = await SubnetRow.create(
      { ...subnet, gateway: subnet.gateway ?? null, position, networkId },
      into,
    );
    const net = `${addressText(subnetRange(subnet).first)}/${subnet.prefix}`;
    await DhcpRangeRow.bulkCreate(
      dhcp.map(({ first, last }) => ({ first, last, net, subnetId })),
      into,
    );
  }
  await KnownDeviceRow.bulkCreate(
    body.devices.map((device) => ({ ...device, networkId })),
    into,
  );
}

/** The network of a site, which is looked at and saved as a whole. */
export class Networks {
  constructor(private readonly sequelize: Sequelize) {}

  async save(jobId: string, { version, ...body }: NetworkBody, author: Author): Promise<SiteNetwork> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    refuse(body);
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      // Nobody else saves the network of this job meanwhile, also where there is none yet.
      await lockJob(jobId, transaction);
      const before = await networkOf(jobId, transaction);
      if ((before.network?.version ?? 0) !== version) throw changedMeanwhile('network');
      if (body.feedPlaceId) {
        const place = await PlaceRow.findByPk(body.feedPlaceId, { transaction, lock: transaction.LOCK.SHARE });
        if (place?.jobId !== jobId) throw notFound('place');
      }
      const changed = changesOf(before, body);
      if (!changed.length) return null;
      const { feedDownMbps = null, feedUpMbps = null, feedPlaceId = null } = body;
      const feed = { feedDownMbps, feedUpMbps, feedPlaceId };
      const id = before.network?.id ?? (await NetworkRow.create({ ...feed, jobId, version: 1 }, { transaction })).id;
      if (before.network) {
        await this.sequelize.query(
          `UPDATE network SET version = version + 1, feed_down_mbps = :feedDownMbps, feed_up_mbps = :feedUpMbps, feed_place_id = :feedPlaceId WHERE id = :id`,
          { replacements: { id, ...feed }, transaction },
        );
        await SubnetRow.destroy({ where: { networkId: id }, transaction });
        await KnownDeviceRow.destroy({ where: { networkId: id }, transaction });
      }
      await fillNetwork(id, body, transaction);
      await note({
        kind: 'job',
        summary: `Changed the network: ${changed.join(', ')}`,
        detail: { before: { ...before } },
      });
      return null;
    });
    return networkOf(jobId);
  }
}

/** @throws ApiProblem with everything that cannot be */
function refuse(body: NewNetwork): void {
  const twins = body.subnets.map((s) => s.name).filter((name, i, all) => all.indexOf(name) !== i);
  const faults = [
    ...twins.map((name) => `Two subnets are called ${name}: give one another name.`),
    ...checkNetwork(body).flatMap(({ severity, reason }) => (severity === 'forbids' ? [reason] : [])),
  ];
  if (faults.length) throw notPossible(faults.join(' '));
}

/** What a save changes, in words. */
function changesOf({ network, devices }: SiteNetwork, body: NewNetwork): string[] {
  const feed = (n: Partial<NewNetwork> | null): unknown[] => [
    n?.feedDownMbps ?? null,
    n?.feedUpMbps ?? null,
    n?.feedPlaceId ?? null,
  ];
  const subnets = (n: Pick<NewNetwork, 'subnets'> | null): unknown =>
    (n?.subnets ?? []).map(({ name, address, prefix, gateway, dhcp }) => [
      name,
      address,
      prefix,
      gateway ?? null,
      dhcp.map(({ first, last }) => [first, last]),
    ]);
  const known = (list: NewNetwork['devices']): Map<string, string> =>
    new Map(
      list.map(({ name, kind, address, mac }) => [
        address,
        `${name}, ${spokenWord(kind)}, ${mac?.toLowerCase() ?? ''}`,
      ]),
    );
  const [old, fresh] = [known(devices), known(body.devices)];
  const added = [...fresh.keys()].filter((address) => !old.has(address)).length;
  const gone = [...old.keys()].filter((address) => !fresh.has(address)).length;
  const other = [...fresh].filter(([address, words]) => old.has(address) && old.get(address) !== words).length;
  const count = (n: number, what: string): string[] => (n ? [`${n} device${n > 1 ? 's' : ''} ${what}`] : []);
  return [
    ...(sameJson(feed(network), feed(body)) ? [] : ['the feed']),
    ...(sameJson(subnets(network), subnets(body)) ? [] : ['the subnets']),
    ...count(added, 'more'),
    ...count(gone, 'less'),
    ...count(other, 'changed'),
  ];
}
