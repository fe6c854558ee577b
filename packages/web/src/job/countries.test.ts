import { describe, expect, it } from 'vitest';
import { countries, countryFilter } from './countries';

describe('countries to choose from', () => {
  const list = countries([{ country: 'XT', name: 'Tessary Isles' }]);

  it('begin with those whose rules are at hand', () => {
    expect(list[0]).toEqual({ value: 'XT', label: 'Tessary Isles (XT), rules known' });
  });

  it('are about as many as ISO 3166-1 has: 249', () => {
    expect(list.length).toBeGreaterThan(240);
    expect(list.length).toBeLessThan(262);
    expect(new Set(list.map((c) => c.value)).size).toBe(list.length);
  });

  it('are countries of today', () => {
    const codes = new Set(list.map((c) => c.value));
    for (const code of ['PT', 'DE', 'JP', 'BR', 'ZA', 'MM']) expect(codes).toContain(code);
    for (const gone of ['DD', 'SU', 'YU', 'EU', 'ZZ', 'AA']) expect(codes).not.toContain(gone);
  });

  it('are found by how their names begin before what they contain', () => {
    const found = (search: string) =>
      countryFilter({ options: list, search, limit: Infinity }).map((option) => 'value' in option && option.value);
    expect(found('ger').slice(0, 2)).toEqual(['DE', 'DZ']);
    expect(found(' de ')[0]).toBe('DE');
    expect(found('nowhere')).toEqual([]);
  });
});
