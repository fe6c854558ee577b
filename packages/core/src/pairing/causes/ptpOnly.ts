import { apAndStation, type Cause } from '../pair';

export const ptpOnlySecondStation: Cause = {
  cause: 'ptpOnlySecondStation',
  severity: 'blocks',
  find: (pair) => {
    const roles = apAndStation(pair);
    if (!roles?.ap.sheet.ptpOnly || roles.ap.otherStations === 0) return undefined;
    const describe = (end: typeof pair.near): string =>
      end === roles.ap ? `point-to-point only, ${end.otherStations} station(s) already` : 'second station';
    return {
      field: 'ptpOnly',
      nearValue: describe(pair.near),
      farValue: describe(pair.far),
      reason: 'The access point admits one station only, and has it already.',
      repair: `Switch off "point-to-point only" on the access point.`,
    };
  },
};

/** A slot protocol in point-to-point mode needs both ends to know it. */
export const ptpOnlyDiffers: Cause = {
  cause: 'ptpOnlyDiffers',
  severity: 'blocks',
  find: ({ near, far }) =>
    near.sheet.protocol === 'slots' && far.sheet.protocol === 'slots' && near.sheet.ptpOnly !== far.sheet.ptpOnly
      ? {
          field: 'ptpOnly',
          nearValue: near.sheet.ptpOnly ? 'on' : 'off',
          farValue: far.sheet.ptpOnly ? 'on' : 'off',
          reason: 'In the time-slot protocol the two ends count slots differently when only one is point-to-point.',
          repair: 'Set "point-to-point only" the same at both ends.',
        }
      : undefined,
};
