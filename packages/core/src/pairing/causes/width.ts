import { apAndStation, type Cause } from '../pair';

export const width: Cause = {
  cause: 'width',
  severity: 'blocks',
  find: (pair) => {
    const [a, b] = [pair.near.sheet, pair.far.sheet];
    const roles = apAndStation(pair);
    if (a.widthMHz === b.widthMHz || (roles && roles.station.sheet.followsWidth && a.band !== 'licensed'))
      return undefined;
    return {
      field: 'widthMHz',
      nearValue: `${a.widthMHz} MHz`,
      farValue: `${b.widthMHz} MHz`,
      reason: 'The channel widths differ, and the station does not follow.',
      repair: `Set both to the same width, or let the station follow.`,
    };
  },
};

/** A width that one of the radios does not have, set directly or taken over from the access point. */
export const widthOfModel: Cause = {
  cause: 'widthOfModel',
  severity: 'blocks',
  find: (pair) => {
    const { near, far } = pair;
    const roles = apAndStation(pair);
    const asked = (end: typeof near): number =>
      roles?.station === end && end.sheet.followsWidth && end.sheet.band !== 'licensed'
        ? roles.ap.sheet.widthMHz
        : end.sheet.widthMHz;
    if (near.model.widthsMHz.includes(asked(near)) && far.model.widthsMHz.includes(asked(far))) return undefined;
    const describe = (end: typeof near): string =>
      `${asked(end)} MHz asked, ${end.model.widthsMHz.join(', ')} possible`;
    return {
      field: 'widthMHz',
      nearValue: describe(near),
      farValue: describe(far),
      reason: 'A radio is asked for a channel width it does not have.',
      repair: 'Choose a width that both models have.',
    };
  },
};
