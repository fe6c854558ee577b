import { eirpLimitDbm, lawOf } from '../../spectrum';
import type { Cause, Pair, PairingEnd } from '../pair';

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

/** More than the law allows with this antenna. The radios would pair; nobody may let them. */
export const powerOverLaw: Cause = {
  cause: 'powerOverLaw',
  severity: 'warns',
  find: ({ near, far, law }: Pair) => {
    const overDb = ({ sheet, model }: PairingEnd): number => {
      const licensed = sheet.band === 'licensed';
      const centreMHz = licensed ? (sheet.txMHz ?? NaN) : sheet.centreMHz;
      const limit = eirpLimitDbm(lawOf(law, sheet.country), { centreMHz, widthMHz: sheet.widthMHz }, licensed);
      return limit === undefined ? 0 : sheet.conductedDbm + model.antennaGainDbi - limit;
    };
    const worstDb = Math.max(overDb(near), overDb(far));
    if (!(worstDb > 0.05)) return undefined;
    const eirp = ({ sheet, model }: PairingEnd): string => `EIRP ${sheet.conductedDbm + model.antennaGainDbi} dBm`;
    return {
      field: 'conductedDbm',
      nearValue: eirp(near),
      farValue: eirp(far),
      reason: `Power and antenna together send ${worstDb.toFixed(1)} dB more than the country set here allows, before cable loss.`,
      repair: 'Turn the power down. The law of the country, and the licence, come first.',
    };
  },
};
