import type { Cause } from '../pair';

/** The names differ in more than case. */
export const networkName: Cause = {
  cause: 'networkName',
  severity: 'blocks',
  find: ({ near, far }) => {
    const [a, b] = [near.sheet.networkName, far.sheet.networkName];
    if (a === b || a.toLowerCase() === b.toLowerCase()) return undefined;
    const spaces = a.trim() === b.trim();
    return {
      field: 'networkName',
      nearValue: spaces ? `"${a}"` : a,
      farValue: spaces ? `"${b}"` : b,
      reason: spaces
        ? 'The network names differ by a space at the edge, which no screen shows.'
        : 'The network names differ: the station looks for another network.',
      repair: `Copy the access point's name to the station, letter by letter.`,
    };
  },
};

export const networkNameCase: Cause = {
  cause: 'networkNameCase',
  severity: 'blocks',
  find: ({ near, far }) => {
    const [a, b] = [near.sheet.networkName, far.sheet.networkName];
    if (a === b || a.toLowerCase() !== b.toLowerCase()) return undefined;
    return {
      field: 'networkName',
      nearValue: a,
      farValue: b,
      reason: 'The network names differ only by capital letters, and radios tell them apart.',
      repair: 'Write the name the same way at both ends; all small letters is safest.',
    };
  },
};
