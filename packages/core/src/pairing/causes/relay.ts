import { roleWords } from '../sheet';
import { isRelayPair, type Cause, type PairingEnd } from '../pair';

export const relayWithOther: Cause = {
  cause: 'relayWithOther',
  severity: 'blocks',
  find: ({ near, far }) =>
    (near.sheet.role === 'relay') === (far.sheet.role === 'relay')
      ? undefined
      : {
          field: 'role',
          nearValue: roleWords[near.sheet.role],
          farValue: roleWords[far.sheet.role],
          reason: 'A relay talks to relays only, and the other end is none.',
          repair:
            'In a chain make every radio a relay; without a chain make one end the access point and the other the station.',
        },
};

/** Each of two relays must list the other. */
export const relayNeighbour: Cause = {
  cause: 'relayNeighbour',
  severity: 'blocks',
  find: (pair) => {
    if (!isRelayPair(pair)) return undefined;
    const { near, far } = pair;
    const lists = (here: PairingEnd, there: PairingEnd): boolean =>
      there.mac !== null && here.sheet.neighbours.some((mac) => sameMac(mac, there.mac as string));
    if (lists(near, far) && lists(far, near)) return undefined;
    const describe = (here: PairingEnd, there: PairingEnd): string =>
      lists(here, there) ? 'lists the other' : there.mac ? `does not list ${there.mac}` : 'cannot list the other';
    return {
      field: 'neighbours',
      nearValue: describe(near, far),
      farValue: describe(far, near),
      reason:
        near.mac && far.mac
          ? 'A relay answers only the hardware addresses it lists.'
          : 'A relay answers only the hardware addresses it lists, and one of them is not known here.',
      repair: 'Type the hardware address from each label into the list of its neighbour.',
    };
  },
};

/** Relays stay on their own channel: nobody scans. */
export const relayChannel: Cause = {
  cause: 'relayChannel',
  severity: 'blocks',
  find: (pair) => {
    const [a, b] = [pair.near.sheet, pair.far.sheet];
    if (!isRelayPair(pair) || a.band === 'licensed' || a.centreMHz === b.centreMHz) return undefined;
    return {
      field: 'centreMHz',
      nearValue: `${a.centreMHz} MHz`,
      farValue: `${b.centreMHz} MHz`,
      reason: 'The relays stand on different channels, and a relay does not look for others.',
      repair: 'Set the channel of the plan on every relay of the chain.',
    };
  },
};

/** Hardware addresses are written with colons or hyphens, in small or capital letters. */
export function sameMac(a: string, b: string): boolean {
  const plain = (mac: string): string => mac.replace(/[^0-9a-f]/gi, '').toLowerCase();
  return plain(a) === plain(b);
}
