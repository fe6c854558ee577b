import { addressValue, hostRange, inSubnet, isAddress } from '../../addressing/subnet';
import type { Cause, Pair } from '../pair';

const text = (sheet: { address: string; prefix: number }): string => `${sheet.address}/${sheet.prefix}`;

/** Addresses are only compared once both are some. */
const bothAddressed = ({ near, far }: Pair): boolean => isAddress(near.sheet.address) && isAddress(far.sheet.address);

export const addressMalformed: Cause = {
  cause: 'addressMalformed',
  severity: 'blocks',
  find: (pair) =>
    bothAddressed(pair)
      ? undefined
      : {
          field: 'address',
          nearValue: pair.near.sheet.address,
          farValue: pair.far.sheet.address,
          reason: 'An address is not complete.',
          repair: 'Write four numbers from 0 to 255, like 10.20.0.7.',
        },
};

export const sameAddress: Cause = {
  cause: 'sameAddress',
  severity: 'blocks',
  find: ({ near, far }) =>
    near.sheet.address === far.sheet.address
      ? {
          field: 'address',
          nearValue: text(near.sheet),
          farValue: text(far.sheet),
          reason: 'Both radios have the same address; factory-new radios always do.',
          repair: 'Give one of them another free address. Change one radio at a time.',
        }
      : undefined,
};

/** Each end must find the other inside its own subnet. */
export const subnetDiffers: Cause = {
  cause: 'subnetDiffers',
  severity: 'blocks',
  find: (pair) => {
    const [a, b] = [pair.near.sheet, pair.far.sheet];
    if (!bothAddressed(pair)) return undefined;
    if (inSubnet(b.address, a) && inSubnet(a.address, b)) return undefined;
    return {
      field: 'address',
      nearValue: text(a),
      farValue: text(b),
      reason: 'The addresses lie in different subnets: from one end the other cannot be reached.',
      repair: `Use the site's subnet and mask at both ends.`,
    };
  },
};

/** The first and last address of a subnet name the subnet and everyone in it, so no radio can have them (RFC 1122); but both of a /31 can (RFC 3021). */
export const addressUnusable: Cause = {
  cause: 'addressUnusable',
  severity: 'blocks',
  find: (pair) => {
    const { near, far } = pair;
    if (!bothAddressed(pair)) return undefined;
    const reserved = (s: typeof near.sheet): boolean => {
      const { first, last } = hostRange(s);
      const value = addressValue(s.address);
      return value < first || value > last;
    };
    if (!reserved(near.sheet) && !reserved(far.sheet)) return undefined;
    return {
      field: 'address',
      nearValue: text(near.sheet),
      farValue: text(far.sheet),
      reason: 'The first and the last address of a subnet are reserved and cannot belong to a radio.',
      repair: 'Take a free address between them.',
    };
  },
};

export const maskDiffers: Cause = {
  cause: 'maskDiffers',
  severity: 'warns',
  find: ({ near, far }) =>
    near.sheet.prefix === far.sheet.prefix
      ? undefined
      : {
          field: 'prefix',
          nearValue: text(near.sheet),
          farValue: text(far.sheet),
          reason: 'The masks differ: some devices of the site will reach one radio and not the other.',
          repair: `Use the site's mask at both ends.`,
        },
};

export const gatewayOutside: Cause = {
  cause: 'gatewayOutside',
  severity: 'warns',
  find: ({ near, far }) => {
    const outside = [near.sheet, far.sheet].some(
      (s) => s.gateway && isAddress(s.gateway) && isAddress(s.address) && !inSubnet(s.gateway, s),
    );
    return outside
      ? {
          field: 'gateway',
          nearValue: near.sheet.gateway ?? 'none',
          farValue: far.sheet.gateway ?? 'none',
          reason: 'A gateway lies outside its own subnet, so that radio has no way out for time and updates.',
          repair: `Use the site's router as gateway.`,
        }
      : undefined;
  },
};
