import { giveRightsUp } from '../../apart/rights';
import { DeviceError, type LevelDevice } from './device';
import { CertificateError } from './httpAnswer';
import type { FromDevice, ToDevice } from './message';
import { deviceOf } from './setup';
import { OutsideError } from './whereabouts';

// The program of the process that asks one device: told which, it answers questions by asking it. It ends when who asked is gone, and by whatever the device answers.

let device: Promise<LevelDevice> | undefined;

async function answer(question: Extract<ToDevice, { id: number }>): Promise<FromDevice> {
  const { id, what, branch } = question;
  try {
    const opened = await device;
    if (!opened) throw new Error('no device was told');
    return what === 'ask' ? { id, told: await opened.ask() } : { id, answer: await opened.explore(branch) };
  } catch (error) {
    const words = error instanceof DeviceError ? error.message : `The radio cannot be read: ${String(error)}`;
    return {
      id,
      words: words.slice(0, 1000),
      ...(error instanceof OutsideError && { outside: error.address }),
      ...(error instanceof CertificateError && { certificate: error.fingerprint }),
    };
  }
}

process.once('disconnect', () => process.exit(0));
process.on('message', (message: ToDevice) => {
  if ('setup' in message) {
    // Whoever asks the device waits until these are given up: nothing is asked, and no command run, with root's.
    device = deviceOf(message.setup).finally(giveRightsUp);
    // Why it cannot be set up is told with the first question.
    device.catch(() => undefined);
    return;
  }
  void answer(message).then((said) => process.send?.(said));
});
