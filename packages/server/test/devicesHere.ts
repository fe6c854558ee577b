import type { LevelDevice } from '../src/radio/devices/device';
import { deviceOf, type Devices, type DeviceSetup } from '../src/radio/devices/setup';

/** Asks devices in this process, by what asks them in one of their own: to start one takes longer than most tests. That they are asked apart is tested by `deviceProcess.test.ts`. */
export class DevicesHere implements Devices {
  open(setup: DeviceSetup): LevelDevice {
    const device = deviceOf(setup);
    device.catch(() => undefined);
    return {
      ask: async () => (await device).ask(),
      explore: async (branch) => (await device).explore(branch),
      close: () => void device.then((opened) => opened.close()).catch(() => undefined),
    };
  }

  stop(): void {
    // Each ends with the alignment that it is asked for.
  }
}
