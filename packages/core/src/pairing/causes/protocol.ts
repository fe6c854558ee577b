import { protocolWords } from '../../radio/kinds';
import type { Cause, PairingEnd } from '../pair';

const spoken = ({ sheet, model }: PairingEnd): string =>
  `${protocolWords[sheet.protocol]}, ${model.protocols.map((p) => protocolWords[p]).join(' or ')} possible`;

export const protocol: Cause = {
  cause: 'protocol',
  severity: 'blocks',
  find: ({ near, far }) =>
    near.sheet.protocol !== far.sheet.protocol
      ? {
          field: 'protocol',
          nearValue: protocolWords[near.sheet.protocol],
          farValue: protocolWords[far.sheet.protocol],
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
          nearValue: spoken(near),
          farValue: spoken(far),
          reason: 'A radio is told to speak a protocol it does not have.',
          repair: 'Choose a protocol that both models have.',
        },
};
