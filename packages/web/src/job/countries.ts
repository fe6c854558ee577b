import type { KnownLaw } from '@kivram/contract/views/law';
import type { ComboboxItem, OptionsFilter } from '@mantine/core';

const letters = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'];

/** Codes that stand for something else than a country: unions, outlying oceans, and what nobody has been given. */
const noCountry = new Set(['EU', 'EZ', 'UN', 'QO', 'XA', 'XB', 'ZZ']);

/**
 * The countries that there are, by their codes in ISO 3166-1 and the names that the browser knows, and before them those whose rules are at hand. A code that was given up stands for its
 * successor and is left out.
 */
export function countries(laws: readonly Pick<KnownLaw, 'country' | 'name'>[]): { value: string; label: string }[] {
  const names = new Intl.DisplayNames(['en'], { type: 'region', fallback: 'none' });
  const known = laws.map(({ country, name }) => ({ value: country, label: `${name} (${country}), rules known` }));
  const others = letters
    .flatMap((a) => letters.map((b) => a + b))
    .filter((code) => !noCountry.has(code) && Intl.getCanonicalLocales(`und-${code}`)[0] === `und-${code}`)
    .flatMap((code) => {
      const name = names.of(code);
      return name && !laws.some((law) => law.country === code) ? [{ value: code, label: `${name} (${code})` }] : [];
    })
    .sort((a, b) => a.label.localeCompare(b.label));
  return [...known, ...others];
}

/** Countries whose name or code begins with what is typed come before those that only contain it: "ger" is Germany before Algeria. */
export const countryFilter: OptionsFilter = ({ options, search }) => {
  const typed = search.trim().toLowerCase();
  const rank = ({ label, value }: ComboboxItem): number =>
    value.toLowerCase() === typed ? 0 : Math.min(2, label.toLowerCase().indexOf(typed) + 1);
  const matching = (options as ComboboxItem[]).filter(
    (option) => option.value.toLowerCase() === typed || option.label.toLowerCase().includes(typed),
  );
  return matching.sort((a, b) => rank(a) - rank(b));
};
