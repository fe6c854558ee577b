import type { LevelSourceBody } from '@kivram/contract/requests/level';
import type { DeviceAnswer } from '@kivram/contract/views/level';
import { LevelProfileRow } from '../database/models/levelProfile';
import { LevelSourceRow, type SourceSecrets, type SourceSetting } from '../database/models/levelSource';
import { RadioRow } from '../database/models/radio';
import { commandAnswer } from './devices/commandAnswer';
import { DeviceError, type LevelDevice } from './devices/device';
import { httpAnswer } from './devices/httpAnswer';
import { JsonDevice } from './devices/jsonDevice';
import { PolledReader } from './polledReader';
import type { RadioReader, RadioReaders } from './reader';
import { TypedReader } from './typedReader';

type Source = Pick<LevelSourceBody, 'way'> & SourceSetting;

/** Nothing is read by it: for looking through what a device answers, before a profile is there. */
const emptyProfile = { level: null, chains: [], noise: null, txRate: null, rxRate: null };

/** The readers of all radios: each end is read in the way that was chosen for it, and as a stand-in where none was. */
export class LevelSources implements RadioReaders {
  constructor(private readonly standins: RadioReaders) {}

  get clockSpeed(): number {
    return this.standins.clockSpeed;
  }

  async readerOf(radioId: string, peerId: string, linkId: string): Promise<RadioReader> {
    const row = await LevelSourceRow.findOne({ where: { radioId, peerId } });
    if (!row || row.way === 'standin') return this.standins.readerOf(radioId, peerId, linkId);
    if (row.way === 'typed' || row.way === 'table') return new TypedReader(row.way);
    const profile = row.profileId && (await LevelProfileRow.findByPk(row.profileId));
    const values = profile ? profile.values : emptyProfile;
    const device = await lazily(() => deviceOf({ ...row.setting, way: row.way }, row.secrets ?? {}, values, peerId));
    return new PolledReader(row.way, device, this.clockSpeed);
  }

  /** @throws DeviceError */
  async explore(source: Source, secrets: SourceSecrets, peerId: string, branch?: string): Promise<DeviceAnswer> {
    const device = await deviceOf(source, secrets, emptyProfile, peerId);
    try {
      return await device.explore(branch);
    } finally {
      device.close();
    }
  }
}

/** A device that cannot even be set up says why whenever it is asked. */
async function lazily(make: () => Promise<LevelDevice>): Promise<LevelDevice> {
  try {
    return await make();
  } catch (error) {
    const fail = (): Promise<never> => Promise.reject(error as Error);
    return { ask: fail, explore: fail, close: () => undefined };
  }
}

async function deviceOf(
  { way, snmp, http, command, outsideAddress, isFromHere = false }: Source,
  secrets: SourceSecrets,
  profile: LevelProfileRow['values'],
  peerId: string,
): Promise<LevelDevice> {
  if (way === 'snmp' && snmp) {
    const peer = await RadioRow.findByPk(peerId, { attributes: ['mac'] });
    // Few radios are read so: the server starts without it.
    const { SnmpDevice } = await import('./devices/snmpDevice');
    return new SnmpDevice({ access: snmp, secrets, outsideAddress, peerMac: peer?.mac ?? null }, profile);
  }
  if (way === 'http' && http)
    return new JsonDevice(() => httpAnswer(http, secrets.password, outsideAddress, isFromHere), profile);
  if (way === 'command' && command) return new JsonDevice(() => commandAnswer(command), profile);
  throw new DeviceError('There is no device to ask: levels at this end are brought by a person.');
}
