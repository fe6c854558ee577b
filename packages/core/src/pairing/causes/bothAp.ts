import type { Cause } from '../pair';

export const bothAp: Cause = {
  cause: 'bothAp',
  severity: 'blocks',
  find: ({ near, far }) =>
    near.sheet.role === 'ap' && far.sheet.role === 'ap'
      ? {
          field: 'role',
          nearValue: 'access point',
          farValue: 'access point',
          reason: 'Both are access points: each waits for a station for ever.',
          repair: 'Make the far end the station.',
        }
      : undefined,
};
