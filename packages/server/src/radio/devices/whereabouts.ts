import ipaddr from 'ipaddr.js';
import { lookup } from 'node:dns/promises';
import { DeviceError } from './device';

/**
 * Private (RFC 1918), loopback and unique local (RFC 4193) addresses: what stands there is the installer's own. Link-local ones (RFC 3927) are asked about: rented computers tell
 * their secrets there.
 */
const near: readonly string[] = ['private', 'loopback', 'uniqueLocal'];
/** Nobody's addresses: they name no device. */
const nobodys: readonly string[] = ['unspecified', 'broadcast', 'multicast', 'reserved'];

/** An address that lies outside of private networks, and was not said to be meant. */
export class OutsideError extends DeviceError {
  constructor(
    host: string,
    readonly address: string,
    words?: string,
  ) {
    super(
      words ??
        `${host === address ? address : `${host} is ${address}, which`} lies outside of private networks: nothing is sent there unless you say that it is meant.`,
    );
  }

  /** As it was told by another process. */
  static said(words: string, address: string): OutsideError {
    return new OutsideError(address, address, words);
  }
}

/** An address taken apart. @throws DeviceError where it is none: some look like one */
export function urlIn(text: string): URL {
  try {
    return new URL(text);
  } catch {
    throw new DeviceError(`"${text}" is no address: write one like http://192.168.1.20/status.json.`);
  }
}

/**
 * The address behind a host, before anything is sent to it.
 * @param outsideAddress one outside of private networks that was said to be meant
 * @param mayBeHere whether this computer itself may be asked: its pages trust whoever asks from it
 * @throws OutsideError where it lies outside and was not; DeviceError where there is none
 */
export async function addressOf(
  host: string,
  outsideAddress: string | undefined,
  mayBeHere = true,
): Promise<{ address: string; family: 4 | 6 }> {
  const bare = host.replace(/^\[(.*)\]$/, '$1');
  let found: { address: string; family: number };
  try {
    found = await lookup(bare);
  } catch {
    throw new DeviceError(`${bare} is not known here: write its address, like 192.168.1.20, or join its network.`);
  }
  // An IPv4 address in the clothes of an IPv6 one is what it is.
  const parsed = ipaddr.process(found.address);
  const range = parsed.range();
  if (nobodys.includes(range))
    throw new DeviceError(`${found.address} is the address of no device: write the radio's own.`);
  if (range === 'loopback' && !mayBeHere)
    throw new DeviceError(`${bare} is the computer that Kivram runs on: its own pages are chosen there only.`);
  if (!near.includes(range) && outsideAddress !== found.address) throw new OutsideError(bare, found.address);
  return { address: found.address, family: found.family === 6 ? 6 : 4 };
}
