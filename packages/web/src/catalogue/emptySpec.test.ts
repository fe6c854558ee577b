import { checkSpec } from '@kivram/core/gear/plausible';
import { phys } from '@kivram/core/radio/kinds/kind';
import { expect, it } from 'vitest';
import { emptySpec, readSpec } from './specForm';

it.each(phys)('a sheet of %s begins with figures that nothing is said against', (phy) => {
  expect(checkSpec({ ...readSpec(emptySpec(phy)).typed, id: 'typed' })).toEqual([]);
});

it('a faster step that needs less is told where the standard does not have it so', () => {
  const { typed } = readSpec(emptySpec('VHT'));
  const swapped = typed.sensitivities.map((s) => (s.mcs === 4 && s.widthMHz === 20 ? { ...s, rslDbm: -90 } : s));
  expect(checkSpec({ ...typed, id: 'typed', sensitivities: swapped })[0]?.reason).toContain('a faster step needs more');
});
