import type { HttpAccess } from '@kivram/contract/requests/level';
import { request as plainly } from 'node:http';
import { request as securely } from 'node:https';
import { isIP, type LookupFunction } from 'node:net';
import { connect, type TLSSocket } from 'node:tls';
import { answerMs, DeviceError } from './device';
import { addressOf, urlIn } from './whereabouts';

/** A radio that vouches for itself showed a certificate that nobody has confirmed. */
export class CertificateError extends DeviceError {
  constructor(
    host: string,
    readonly fingerprint: string,
    wasOther = false,
    words?: string,
  ) {
    super(
      words ??
        `${host} shows ${wasOther ? 'another certificate than the one that was confirmed' : 'a certificate of its own'}, with the fingerprint ${fingerprint}. Nothing was sent: compare it with the radio's own page, and confirm it if it is this radio's.`,
    );
  }

  /** As it was told by another process. */
  static said(words: string, fingerprint: string): CertificateError {
    return new CertificateError('', fingerprint, false, words);
  }
}

/** What a radio's state may be long, bytes. */
const mostBytes = 1_000_000;

/**
 * Asks an address once, where it lies, and follows it nowhere else.
 * @throws DeviceError with what came instead of an answer
 */
export async function httpAnswer(
  { url, userName, ownCertificate, certificate }: HttpAccess,
  password: string | undefined,
  outsideAddress: string | undefined,
  mayBeHere: boolean,
): Promise<string> {
  const target = urlIn(url);
  const { address, family } = await addressOf(target.hostname, outsideAddress, mayBeHere);
  // The name was looked up, and looked at: it must not lead elsewhere now.
  const lookup: LookupFunction = (_host, { all }, found) =>
    all ? found(null, [{ address, family }]) : found(null, address, family);
  const isSecure = target.protocol === 'https:';
  const signal = AbortSignal.timeout(answerMs);
  // Nothing is said, above all no password, before it is known whose certificate that is.
  const vouched =
    isSecure && ownCertificate ? await confirmedLine(target, { address, certificate, signal }) : undefined;
  const options = {
    lookup,
    headers: { accept: 'application/json' },
    ...(userName && { auth: `${userName}:${password ?? ''}` }),
    ...(vouched && { createConnection: () => vouched }),
    signal,
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

/** From this length on a password stands in a page because that repeats it, not by chance. */
const leastTold = 6;

/** What is shown of a page, without the password where the page repeats what it was sent: plain, as JSON has it, and as HTTP carries it (RFC 7617). */
export const hushed =
  ({ userName }: Pick<HttpAccess, 'userName'>, password = '') =>
  (text: string): string => {
    if (!userName) return text;
    const sent = Buffer.from(`${userName}:${password}`).toString('base64');
    const words = password.length < leastTold ? [sent] : [sent, password, JSON.stringify(password).slice(1, -1)];
    return words.reduce((rest, word) => rest.replaceAll(word, '•••'), text);
  };

/** A line to a radio whose certificate is the one that was confirmed. @throws DeviceError, among them CertificateError */
function confirmedLine(
  { host, hostname, port }: URL,
  { address, certificate, signal }: { address: string; certificate: string | undefined; signal: AbortSignal },
): Promise<TLSSocket> {
  return new Promise((resolve, reject) => {
    const name = hostname.replace(/^\[(.*)\]$/, '$1');
    const line = connect({
      host: address,
      port: Number(port || 443),
      rejectUnauthorized: false,
      ...(!isIP(name) && { servername: name }),
    });
    const fail = (error: Error): void => {
      line.destroy();
      reject(error);
    };
    const late = (): void => fail(new DeviceError(`${host} does not answer within ${answerMs / 1000} s.`));
    signal.addEventListener('abort', late, { once: true });
    line.once('error', (error) => fail(new DeviceError(`${host} ${wordsOf(error)}`)));
    line.once('secureConnect', () => {
      signal.removeEventListener('abort', late);
      const { fingerprint256 } = line.getPeerCertificate();
      if (fingerprint256 === certificate) return resolve(line);
      fail(new CertificateError(host, fingerprint256, certificate !== undefined));
    });
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
