import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { RuleSet, SpectrumRule } from '@kivram/core/spectrum/ruleSet';
import { readRegulatoryDb } from '../formats/law/regulatoryDb';

/** The world, for radios that do not know where they are: no country. */
const world = '00';

interface Edition {
  name: string;
  version: string;
  date: string;
  licence: string;
}

interface FixedLinkLayers {
  layers: { source: string; asOf: string; countries: string[]; rules: SpectrumRule[] }[];
}

const { resolve } = createRequire(import.meta.url);
const pathOf = (name: string): string => resolve(`@kivram/server/data/law/${name}`);
const parsed = <Data>(name: string): Data => JSON.parse(readFileSync(pathOf(name), 'utf8')) as Data;

/**
 * The law that ships with Kivram: the wireless regulatory database, country by country, and on top of it the rules for fixed links, which it does not know. `npm run law` fetches a newer one.
 */
export function shippedLaw(): RuleSet[] {
  const { name, version, date, licence } = parsed<Edition>('edition.json');
  const { layers } = parsed<FixedLinkLayers>('fixed-links.json');
  const names = new Intl.DisplayNames(['en'], { type: 'region' });
  return readRegulatoryDb(readFileSync(pathOf('regulatory.db'))).flatMap(({ country, rules }) => {
    if (country === world) return [];
    const fixed = layers
      .filter((layer) => layer.countries.includes(country))
      .flatMap(({ source, asOf, rules: own }) =>
        own.map((rule): SpectrumRule => ({
          ...rule,
          layer: 'fixedLink',
          source: `${source}, as of ${asOf}`,
          verify: true,
        })),
      );
    return [
      {
        country,
        name: names.of(country) ?? country,
        validFrom: date,
        rules: [...rules, ...fixed],
        source: `${name} ${version}, ${date} (${licence})`,
      },
    ];
  });
}
