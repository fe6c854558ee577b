import type { Cause } from '../pair';

export const bridgeMode: Cause = {
  cause: 'bridgeMode',
  severity: 'blocks',
  find: ({ near, far }) =>
    near.sheet.bridge && far.sheet.bridge
      ? undefined
      : {
          field: 'bridge',
          nearValue: near.sheet.bridge ? 'bridge' : 'router',
          farValue: far.sheet.bridge ? 'bridge' : 'router',
          reason: 'A radio in router mode does not pass the network through: the link is no cable.',
          repair: 'Set both ends to bridge mode.',
        },
};
