/** A number that could not be read; the message names what was typed and how to write it. */
export class NumberError extends Error {
  override name = 'NumberError';
}

/**
 * Reads a number as people type or paste it: with a point or a comma before its decimals, with spaces or apostrophes between thousands, with any minus sign.
 * @returns null for nothing
 * @throws NumberError where it is none, or where a comma might stand for thousands as well as for decimals
 */
export function parseNumber(text: string): number | null {
  const typed = text.trim();
  if (!typed) return null;
  const plain = typed.replace(/[\u2212\u2013]/g, '-').replace(/(?<=\d)[ \u00a0\u202f'’](?=\d{3}(?!\d))/g, '');
  if (/^[+-]?\d{1,3}(,\d{3})+\.\d*$/.test(plain)) return Number(plain.replaceAll(',', ''));
  if (/^[+-]?\d{1,3}(\.\d{3})+,\d*$/.test(plain)) return Number(plain.replaceAll('.', '').replace(',', '.'));
  const comma = /^([+-]?)(\d*),(\d+)$/.exec(plain);
  if (comma) {
    const [, sign = '', whole = '', decimals = ''] = comma;
    if (decimals.length === 3 && /^[1-9]\d{0,2}$/.test(whole)) {
      throw new NumberError(`"${typed}" could be ${whole}${decimals} or ${whole}.${decimals}: write one of these.`);
    }
    return Number(`${sign}${whole}.${decimals}`);
  }
  if (!/^[+-]?(\d+\.?\d*|\.\d+)$/.test(plain)) {
    throw new NumberError(`"${typed}" is no number: write digits, like 12.5.`);
  }
  return Number(plain);
}

/** A sentence with a true minus sign before its numbers. */
export function withMinus(text: string): string {
  return text.replace(/(^|[\s(])-(?=\d)/g, '$1−');
}
