import type { Model } from '@kivram/core/gear/model';
import { phys } from '@kivram/core/radio/kinds/kind';
import { describe, expect, it } from 'vitest';
import { cellKey, emptySpec, formOf, readSpec, standardSteps, widthsOf, type SpecForm } from './specForm';

const typed = (changes: Partial<SpecForm> = {}): SpecForm => ({
  ...emptySpec('VHT'),
  maker: ' Marten ',
  name: 'M 23',
  mostConductedDbm: 25,
  antennaGainDbi: 23,
  azimuthDeg: 10,
  elevationDeg: 10,
  ...changes,
});

describe('a spec sheet as it is typed', () => {
  it.each(phys)('begins for %s with what its standard asks, which is enough once the rest is typed', (phy) => {
    const { spec, errors } = readSpec({
      ...typed(),
      ...emptySpec(phy),
      maker: 'M',
      name: 'x',
      mostConductedDbm: 20,
      antennaGainDbi: 16,
      azimuthDeg: 20,
      elevationDeg: 20,
    });
    expect(errors).toEqual({});
    expect(spec?.sensitivities.length).toBeGreaterThan(3);
    expect(widthsOf(phy)).toEqual(expect.arrayContaining(spec?.widthsMHz ?? []));
  });

  it('is the same when it is opened again', () => {
    const full = typed({
      poeWatts: 9,
      price: 129,
      otherPorts: '100, 1000',
      factoryAddress: '192.168.1.20',
      pairingKind: 'button',
      steps: { ...standardSteps('VHT', [20, 40, 80]), [cellKey(9, 80, false)]: { rslDbm: -51, mostConductedDbm: 20 } },
    });
    const { spec } = readSpec(full);
    expect(spec).toMatchObject({
      maker: 'Marten',
      otherPortsMbps: [100, 1000],
      price: { amount: 129, currency: 'EUR' },
    });
    expect(readSpec(formOf({ ...spec, id: 'x' } as Model)).spec).toEqual(spec);
  });

  it('names what is missing at its field, and says nothing of what may be unknown', () => {
    const { spec, errors } = readSpec(
      typed({ maker: '', azimuthDeg: null, overloadDbm: 'x', price: 5, currency: 'euro' }),
    );
    expect(spec).toBeNull();
    expect(Object.keys(errors).sort()).toEqual(['azimuthDeg', 'currency', 'maker', 'overloadDbm']);
  });

  it('keeps what was typed for a width that was taken away, and leaves it out', () => {
    const { spec } = readSpec(typed({ widthsMHz: [20] }));
    expect(new Set(spec?.sensitivities.map((s) => s.widthMHz))).toEqual(new Set([20]));
  });
});
