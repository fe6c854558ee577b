import { channelFits } from '../../spectrum/channel';
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
      repair: `Let the far end send what the near end hears, and hear what it sends.`,
    };
  },
};

/** A frequency of the pair that one of the radios does not tune to. */
export const frequencyOutOfReach: Cause = {
  cause: 'frequencyOutOfReach',
  severity: 'blocks',
  find: ({ near, far }) => {
    const reaches = ({ sheet, model }: typeof near): boolean =>
      sheet.band !== 'licensed' ||
      [sheet.txMHz, sheet.rxMHz].every(
        (centreMHz) =>
          centreMHz === null || channelFits({ centreMHz, widthMHz: sheet.widthMHz }, model.lowestMHz, model.highestMHz),
      );
    if (reaches(near) && reaches(far)) return undefined;
    const describe = ({ sheet, model }: typeof near): string =>
      `${sheet.txMHz ?? '-'} and ${sheet.rxMHz ?? '-'} MHz, ${model.lowestMHz} to ${model.highestMHz} possible`;
    return {
      field: 'txMHz',
      nearValue: describe(near),
      farValue: describe(far),
      reason: 'A frequency lies outside what the radio tunes to.',
      repair: 'Take the frequencies from the licence, and gear that is built for them.',
    };
  },
};

export const errorCorrectionDiffers: Cause = {
  cause: 'errorCorrectionDiffers',
  severity: 'blocks',
  find: ({ near, far }) => {
    const [a, b] = [near.sheet, far.sheet];
    if (a.band !== 'licensed' || b.band !== 'licensed' || a.errorCorrection === b.errorCorrection) return undefined;
    const describe = (on: boolean): string => (on ? 'on' : 'off');
    return {
      field: 'errorCorrection',
      nearValue: describe(a.errorCorrection),
      farValue: describe(b.errorCorrection),
      reason: 'One end adds error correction and the other does not expect it: neither can read the other.',
      repair: 'Switch error correction on at both ends for range, or off at both for rate.',
    };
  },
};
