import type { Cause } from '../pair';

export const bothStation: Cause = {
  cause: 'bothStation',
  severity: 'blocks',
  find: ({ near, far }) =>
    near.sheet.role === 'station' && far.sheet.role === 'station'
      ? {
          field: 'role',
          nearValue: 'station',
          farValue: 'station',
          reason: 'Both are stations: each listens for an access point that nobody runs.',
          repair: 'Make the near end, which has the feed, the access point.',
        }
      : undefined,
};
