import type { Cause } from '../pair';

export const frequencyPair: Cause = {
  cause: 'frequencyPair',
  severity: 'blocks',
  find: ({ near, far }) => {
    const [a, b] = [near.sheet, far.sheet];
    if (a.band !== 'licensed' || b.band !== 'licensed') return undefined;
    const exchanged =
      a.txMHz !== null && b.txMHz !== null && a.txMHz === b.rxMHz && b.txMHz === a.rxMHz && a.txMHz !== a.rxMHz;
    if (exchanged) return undefined;
    const describe = (s: typeof a): string => `sends ${s.txMHz ?? '-'}, hears ${s.rxMHz ?? '-'} MHz`;
    return {
      field: 'txMHz',
      nearValue: describe(a),
      farValue: describe(b),
      reason: 'The frequency pair is not exchanged: what one end sends the other does not hear.',
      mend: `Let the far end send what the near end hears, and hear what it sends.`,
    };
  },
};
