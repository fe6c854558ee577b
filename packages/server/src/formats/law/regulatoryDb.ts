import type { SpectrumRule } from '@kivram/core/spectrum/ruleSet';

/** A file of laws that cannot be read; the message names what is wrong in it and the repair. */
export class LawFileError extends Error {
  override name = 'LawFileError';
}

/** What the database says of one country. */
export interface CountryRules {
  /** ISO 3166-1, two capital letters; "00" is the world, for who has not said where they are */
  country: string;
  rules: SpectrumRule[];
}

const magic = 0x52474442; // "RGDB"
const readVersion = 20;

/** Flags of a rule, by their bits in net/wireless/reg.c of the Linux kernel (`enum fwdb_flags`). */
const flags = { noOfdm: 1, noOutdoor: 2, radar: 4, noInitiating: 8, joins: 16 } as const;

/** A rule's frequencies, width and power stand in its first 16 bytes; more may follow. */
const ruleBytes = 16;
const countryBytes = 4;

/**
 * Reads the open wireless regulatory database in its binary form: magic "RGDB", version 20, big-endian, as the kernel's net/wireless/reg.c reads it (`struct
 * fwdb_header`, `fwdb_country`, `fwdb_collection`, `fwdb_rule`). Rules without OFDM are left out: no radio of this trade can use them.
 * @throws LawFileError for what is no such file, is cut off or points outside of itself
 */
export function readRegulatoryDb(bytes: Uint8Array): CountryRules[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const within = (offset: number, length: number, what: string): void => {
    if (offset < 0 || offset + length > view.byteLength)
      throw new LawFileError(
        `The file ends at byte ${view.byteLength}, before ${what} at byte ${offset}: it is cut off or damaged. Load it again.`,
      );
  };
  within(0, 8, 'its head');
  if (view.getUint32(0) !== magic)
    throw new LawFileError('The file does not begin with RGDB: it is no wireless regulatory database (regulatory.db).');
  const version = view.getUint32(4);
  if (version !== readVersion)
    throw new LawFileError(`The file is of version ${version}, and this Kivram reads version ${readVersion}.`);

  const found: CountryRules[] = [];
  for (let at = 8; ; at += countryBytes) {
    within(at, countryBytes, `country ${found.length + 1}`);
    const collectionAt = view.getUint16(at + 2) * 4;
    if (collectionAt === 0) return found;
    const country = String.fromCharCode(view.getUint8(at), view.getUint8(at + 1));
    if (!/^([A-Z]{2}|00)$/.test(country))
      throw new LawFileError(`At byte ${at} stands no country but "${printable(country)}": the file is damaged.`);
    found.push({ country, rules: collection(collectionAt, country) });
  }

  function collection(at: number, country: string): SpectrumRule[] {
    within(at, 3, `the rules of ${country}`);
    const length = view.getUint8(at);
    const count = view.getUint8(at + 1);
    if (length < 3)
      throw new LawFileError(`The rules of ${country} at byte ${at} are damaged: their head is ${length} bytes.`);
    const list = at + 2 * Math.ceil(length / 2);
    within(list, 2 * count, `the list of ${count} rules of ${country}`);
    const rules: SpectrumRule[] = [];
    for (let i = 0; i < count; i++) {
      const rule = ruleAt(view.getUint16(list + 2 * i) * 4, `rule ${i + 1} of ${country}`);
      if (rule) rules.push(rule);
    }
    return rules;
  }

  function ruleAt(at: number, what: string): SpectrumRule | null {
    within(at, ruleBytes, what);
    const length = view.getUint8(at);
    const set = view.getUint8(at + 1);
    const [startKHz, endKHz, widthKHz] = [view.getUint32(at + 4), view.getUint32(at + 8), view.getUint32(at + 12)];
    within(at, length, what);
    if (length < ruleBytes || endKHz <= startKHz || widthKHz === 0)
      throw new LawFileError(
        `At byte ${at}, ${what} goes from ${startKHz} to ${endKHz} kHz in channels of ${widthKHz}: the file is damaged.`,
      );
    if (set & flags.noOfdm) return null;
    const joins = (set & flags.joins) !== 0;
    return {
      lowestMHz: startKHz / 1000,
      highestMHz: endKHz / 1000,
      // mBm, hundredths of a dBm
      mostEirpDbm: view.getUint16(at + 2) / 100,
      radar: (set & flags.radar) !== 0,
      // Where pieces join, a channel may be as wide as they are together, whatever each says by itself.
      ...(!joins && { alone: true, mostWidthMHz: widthKHz / 1000 }),
      ...(set & flags.noOutdoor && { indoor: true }),
      ...(set & flags.noInitiating && { joinOnly: true }),
    };
  }
}

function printable(text: string): string {
  return text.replace(/[^\x20-\x7e]/g, '?');
}
