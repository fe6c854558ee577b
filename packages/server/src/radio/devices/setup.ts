import type { HttpAccess, LevelProfileBody, SnmpAccess } from '@kivram/contract/requests/level';
import type { SourceSecrets } from '../../database/models/levelSource';
import { commandAnswer, type RunCommand } from './commandAnswer';
import type { LevelDevice } from './device';
import { httpAnswer, hushed } from './httpAnswer';
import { JsonDevice } from './jsonDevice';

export type DeviceValues = Pick<LevelProfileBody, 'level' | 'chains' | 'noise' | 'txRate' | 'rxRate'>;

/** All that it takes to ask a device: plain, so that it can be told to a process of its own. */
export type DeviceSetup = { values: DeviceValues; secrets: SourceSecrets; outsideAddress?: string } & (
  | {
      way: 'snmp';
      access: Omit<SnmpAccess, keyof SourceSecrets>;
      /** hardware address of the radio that is heard; null where it is not known */
      peerMac: string | null;
    }
  | {
      way: 'http';
      access: Omit<HttpAccess, keyof SourceSecrets>;
      /** whether pages of this computer itself may be asked */
      isFromHere: boolean;
    }
  | { way: 'command'; command: RunCommand }
);

/** Where devices are asked. */
export interface Devices {
  open(setup: DeviceSetup): LevelDevice;
  /** Ends whatever is being asked. */
  stop(): void;
}

/** Loads what asks a device. @throws DeviceError where it cannot even be set up */
export async function deviceOf(setup: DeviceSetup): Promise<LevelDevice> {
  const { values, secrets, outsideAddress } = setup;
  if (setup.way === 'snmp') {
    // Few radios are read so: others do without it.
    const { SnmpDevice } = await import('./snmpDevice');
    return new SnmpDevice({ access: setup.access, secrets, outsideAddress, peerMac: setup.peerMac }, values);
  }
  if (setup.way === 'http')
    return new JsonDevice(
      () => httpAnswer(setup.access, secrets.password, outsideAddress, setup.isFromHere),
      values,
      hushed(setup.access, secrets.password),
    );
  return new JsonDevice(() => commandAnswer(setup.command), values);
}
