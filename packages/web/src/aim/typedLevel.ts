import { NumberError, parseNumber } from '@kivram/core/units/number';

/** What receivers show, dBm. */
const [leastDbm, mostDbm] = [-120, -1];

/**
 * A level as somebody types it in a hurry: 63 means -63 dBm, and nothing at all means the same as before.
 * @returns an error in words where it is none
 */
export function readTyped(text: string, last: number | null): number | Error {
  if (text.trim() === '') return last ?? new Error('Type the level that the radio shows, like 63 for −63 dBm.');
  let number: number | null;
  try {
    number = parseNumber(text.trim());
  } catch (error) {
    if (error instanceof NumberError) return error;
    throw error;
  }
  const dbm = -Math.abs(number ?? 0);
  if (dbm < leastDbm || dbm > mostDbm)
    return new Error(`${text.trim()} is no level of a receiver: it lies between −${-leastDbm} and −${-mostDbm} dBm.`);
  return dbm;
}
