import type { Cause } from '../pair';

export const protocol: Cause = {
  cause: 'protocol',
  severity: 'blocks',
  find: ({ near, far }) =>
    near.sheet.protocol !== far.sheet.protocol
      ? {
          field: 'protocol',
          nearValue: near.sheet.protocol,
          farValue: far.sheet.protocol,
          reason: 'One end speaks 802.11 and the other a time-slot protocol.',
          repair: 'Set both to the same protocol.',
        }
      : undefined,
};

export const protocolOfModel: Cause = {
  cause: 'protocolOfModel',
  severity: 'blocks',
  find: ({ near, far }) =>
    [near, far].every((end) => end.model.protocols.includes(end.sheet.protocol))
      ? undefined
      : {
          field: 'protocol',
          nearValue: `${near.sheet.protocol}, ${near.model.protocols.join(' or ')} possible`,
          farValue: `${far.sheet.protocol}, ${far.model.protocols.join(' or ')} possible`,
          reason: 'A radio is told to speak a protocol it does not have.',
          repair: 'Choose a protocol that both models have.',
        },
};
