import type { Cause, PairingEnd } from '../pair';

const describe = ({ sheet, model }: PairingEnd): string =>
  `${sheet.conductedDbm} dBm, ${model.leastConductedDbm} to ${model.mostConductedDbm} possible`;

/** A power that the radio cannot be set to: its page refuses the whole sheet. */
export const powerOfModel: Cause = {
  cause: 'powerOfModel',
  severity: 'blocks',
  find: ({ near, far }) => {
    const possible = ({ sheet, model }: PairingEnd): boolean =>
      sheet.conductedDbm >= model.leastConductedDbm && sheet.conductedDbm <= model.mostConductedDbm;
    if (possible(near) && possible(far)) return undefined;
    return {
      field: 'conductedDbm',
      nearValue: describe(near),
      farValue: describe(far),
      reason: 'A radio is asked for a power that it cannot be set to.',
      repair: 'Choose a power between the least and the most of the spec sheet.',
    };
  },
};
