import type { HttpAccess } from '@kivram/contract/requests/level';
import { request as plainly } from 'node:http';
import { request as securely } from 'node:https';
import type { LookupFunction } from 'node:net';
import { answerMs, DeviceError } from './device';
import { addressOf } from './whereabouts';

/** What a radio's state may be long, bytes. */
const mostBytes = 1_000_000;

/**
 * Asks an address once, where it lies, and follows it nowhere else.
 * @throws DeviceError with what came instead of an answer
 */
export async function httpAnswer(
  { url, userName, ownCertificate }: HttpAccess,
  password: string | undefined,
  outsideAddress: string | undefined,
  mayBeHere: boolean,
): Promise<string> {
  const target = new URL(url);
  const { address, family } = await addressOf(target.hostname, outsideAddress, mayBeHere);
  // The name was looked up, and looked at: it must not lead elsewhere now.
  const lookup: LookupFunction = (_host, { all }, found) =>
    all ? found(null, [{ address, family }]) : found(null, address, family);
  const isSecure = target.protocol === 'https:';
  const options = {
    lookup,
    headers: { accept: 'application/json' },
    ...(userName && { auth: `${userName}:${password ?? ''}` }),
    ...(isSecure && { rejectUnauthorized: !ownCertificate }),
    signal: AbortSignal.timeout(answerMs),
  };
  return new Promise((resolve, reject) => {
    const fail = (words: string): void => reject(new DeviceError(`${target.host} ${words}`));
    const asking = (isSecure ? securely : plainly)(target, options, (response) => {
      const { statusCode = 0 } = response;
      if (statusCode !== 200) {
        response.resume();
        return fail(
          statusCode === 401 || statusCode === 403
            ? 'wants a user name and a password, or others than these.'
            : `answers with status ${statusCode} instead of a page.`,
        );
      }
      const pieces: Buffer[] = [];
      let bytes = 0;
      response.on('data', (piece: Buffer) => {
        pieces.push(piece);
        if ((bytes += piece.length) <= mostBytes) return;
        asking.destroy();
        fail('answers with more than a megabyte: that is no state of a radio.');
      });
      response.on('end', () => resolve(Buffer.concat(pieces).toString('utf8')));
      response.on('error', () => fail('broke off its answer.'));
    });
    asking.on('error', (error: NodeJS.ErrnoException) => fail(wordsOf(error)));
    asking.end();
  });
}

function wordsOf(error: NodeJS.ErrnoException): string {
  if (error.name === 'AbortError' || error.name === 'TimeoutError')
    return `does not answer within ${answerMs / 1000} s.`;
  if (error.code === 'ECONNREFUSED') return 'has nothing that answers at this port.';
  if (/CERT|SELF_SIGNED|SSL|UNABLE_TO_VERIFY/.test(error.code ?? ''))
    return 'vouches for itself: say that its own certificate is taken, if you know that it is this radio.';
  return `cannot be reached: ${error.message}.`;
}
