import { QueryTypes, type Sequelize } from 'sequelize';
import type { LevelSourceBody } from '@kivram/contract/requests/level';
import type { DeviceAnswer } from '@kivram/contract/views/level';
import { JobRow } from '../database/models/job';
import { LevelProfileRow } from '../database/models/levelProfile';
import { LevelSourceRow, type SourceSecrets, type SourceSetting } from '../database/models/levelSource';
import { RadioRow } from '../database/models/radio';
import type { Commands } from './commands';
import { DeviceError, type LevelDevice } from './devices/device';
import type { Devices, DeviceSetup, DeviceValues } from './devices/setup';
import { PolledReader } from './polledReader';
import type { RadioReader, RadioReaders } from './reader';
import { TypedReader } from './typedReader';

/** How a device is asked: as it is stored, or as somebody tries it before. */
export interface Source extends SourceSetting, Pick<LevelSourceBody, 'way'> {
  /** the digest of the command that was allowed; null for none */
  allowedCommand: string | null;
}

/** How an end is read as long as nobody has chosen it: nothing of the stand-ins reaches a real job by itself. */
export async function unchosenWay(linkId: string): Promise<'standin' | 'typed'> {
  const [job] = await (JobRow.sequelize as Sequelize).query<{ practice: boolean }>(
    'SELECT j.practice FROM job j JOIN link l ON l.job_id = j.id WHERE l.id = :linkId',
    { type: QueryTypes.SELECT, replacements: { linkId } },
  );
  return job?.practice ? 'standin' : 'typed';
}

/** Nothing is read by it: for looking through what a device answers, before a profile is there. */
const emptyProfile: DeviceValues = { level: null, chains: [], noise: null, txRate: null, rxRate: null };

/** The readers of all radios: each end is read in the way that was chosen for it; where none was, as a stand-in on a practice job, and by a person on a real one. */
export class LevelSources implements RadioReaders {
  constructor(
    private readonly standins: RadioReaders,
    private readonly devices: Devices,
    private readonly commands: Commands,
  ) {}

  get clockSpeed(): number {
    return this.standins.clockSpeed;
  }

  async readerOf(radioId: string, peerId: string, linkId: string): Promise<RadioReader> {
    const row = await LevelSourceRow.findOne({ where: { radioId, peerId } });
    const way = row?.way ?? (await unchosenWay(linkId));
    if (way === 'standin') return this.standins.readerOf(radioId, peerId, linkId);
    if (!row || way === 'typed' || way === 'table') return new TypedReader(way === 'table' ? way : 'typed');
    const profile = row.profileId && (await LevelProfileRow.findByPk(row.profileId));
    const values = profile ? profile.values : emptyProfile;
    const { setting, allowedCommand } = row;
    const secrets = row.secrets ?? {};
    const device = lazily(() => this.deviceOf({ ...setting, way, allowedCommand }, secrets, values, peerId));
    return new PolledReader(way, device, this.clockSpeed);
  }

  /** @throws DeviceError */
  async explore(source: Source, secrets: SourceSecrets, peerId: string, branch?: string): Promise<DeviceAnswer> {
    const device = await this.deviceOf(source, secrets, emptyProfile, peerId);
    try {
      return await device.explore(branch);
    } finally {
      device.close();
    }
  }

  private async deviceOf(
    source: Source,
    secrets: SourceSecrets,
    values: DeviceValues,
    peerId: string,
  ): Promise<LevelDevice> {
    const { outsideAddress } = source;
    return this.devices.open({
      ...(await this.accessOf(source, peerId)),
      values,
      secrets,
      ...(outsideAddress !== undefined && { outsideAddress }),
    } as DeviceSetup);
  }

  private async accessOf({ way, snmp, http, command, isFromHere = false, allowedCommand }: Source, peerId: string) {
    if (way === 'snmp' && snmp) {
      const peer = await RadioRow.findByPk(peerId, { attributes: ['mac'] });
      return { way, access: snmp, peerMac: peer?.mac ?? null };
    }
    if (way === 'http' && http) return { way, access: http, isFromHere };
    if (way === 'command' && command) return { way, command: this.commands.allowed(command.name, allowedCommand) };
    throw new DeviceError('There is no device to ask: levels at this end are brought by a person.');
  }
}

/** A device that is set up when it is first asked. One that cannot be says why, and is tried again: a file may be mended, or another radio be asked no more. */
function lazily(make: () => Promise<LevelDevice>): LevelDevice {
  let device: Promise<LevelDevice> | undefined;
  let isOpen = true;
  const opened = async (): Promise<LevelDevice> => {
    if (!isOpen) throw new DeviceError('The radio is not asked any more.');
    device ??= make();
    try {
      return await device;
    } catch (error) {
      device = undefined;
      throw error;
    }
  };
  return {
    ask: async () => (await opened()).ask(),
    explore: async (branch) => (await opened()).explore(branch),
    close: () => {
      isOpen = false;
      device?.then(
        (made) => made.close(),
        () => undefined,
      );
    },
  };
}
