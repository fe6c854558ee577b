import type { Model } from '@kivram/core/gear/model';
import { describe, expect, it } from 'vitest';
import { brokenIn } from './brokenIn';
import { endPowerDbm, usualDbm } from './endPower';
import type { HopSurroundings } from './hopPlan';
import { emptyEnd, emptyHop, emptyLink, type EndForm, type LinkForm } from './linkForm';

/** Made up: 23 dBi at 5 GHz. */
const model: Model = {
  id: 'marten-23',
  maker: 'Test',
  name: 'Marten 23',
  band: '5GHz',
  lowestMHz: 5150,
  highestMHz: 5850,
  phy: 'VHT',
  streams: 2,
  protocols: ['802.11'],
  widthsMHz: [40],
  leastConductedDbm: 0,
  mostConductedDbm: 25,
  antennaGainDbi: 23,
  beamWidth: { azimuthDeg: 9, elevationDeg: 9 },
  noiseFigureDb: 5,
  sensitivities: [{ mcs: 0, widthMHz: 40, rslDbm: -80 }],
  overloadDbm: -30,
  ethernetMbps: 1000,
  poe: 'passive24',
  hasPtpOnly: false,
};
const end = (latitude: string, conductedDbm: number | null = 10): EndForm => ({
  ...emptyEnd,
  name: latitude,
  latitude,
  groundHeightM: 20,
  modelId: 'marten-23',
  conductedDbm,
});
const form = (changes: Partial<LinkForm> = {}): LinkForm => ({
  ...emptyLink,
  near: end('38.71, -9.14'),
  hops: [{ ...emptyHop, name: 'to Barn', far: end('38.715, -9.14') }],
  widthMHz: '40',
  centreMHz: '5755',
  ...changes,
});
const around: HopSurroundings = {
  models: [model],
  places: [],
  radios: [],
  law: {
    country: 'XT',
    name: 'Testland',
    validFrom: '2026-01-01',
    rules: [
      { lowestMHz: 5150, highestMHz: 5250, mostEirpDbm: 23, radar: false, indoor: true },
      { lowestMHz: 5725, highestMHz: 5850, mostEirpDbm: 36, radar: false },
    ],
  },
  licences: [],
  day: '2026-06-15',
};

describe('what new links break of the law', () => {
  it('is nothing within it, nor where nothing is known', () => {
    expect(brokenIn(form(), around)).toEqual([]);
    expect(brokenIn(form({ near: end('38.71, -9.14', 25) }), { ...around, law: null })).toEqual([]);
    expect(brokenIn(form({ near: end('') }), around)).toEqual([]);
  });

  it('is told before they are made: too much power, a channel for indoors, of several links each by its name', () => {
    expect(brokenIn(form({ near: end('38.71, -9.14', 19) }), around)).toEqual(['EIRP 6.0 dB over the limit of 36 dBm']);
    expect(brokenIn(form({ centreMHz: '5190' }), around)[0]).toContain('is for indoors only in Testland');
    const station = (name: string, latitude: string, power: number) => ({
      ...emptyHop,
      name,
      far: end(latitude, power),
    });
    const hops = [station('to Barn', '38.715, -9.14', 10), station('to Byre', '38.71, -9.13', 20)];
    expect(brokenIn(form({ shape: 'hub', hops }), around)).toEqual(['to Byre: EIRP 7.0 dB over the limit of 36 dBm']);
  });
});

describe('the power that a new radio begins with', () => {
  const untyped = (changes: Partial<LinkForm> = {}) => form({ near: end('38.71, -9.14', null), ...changes });
  const limited = (mostEirpDbm: number): HopSurroundings => ({
    ...around,
    law: {
      country: 'XT',
      name: 'T',
      validFrom: '2026-01-01',
      rules: [{ lowestMHz: 5725, highestMHz: 5850, mostEirpDbm, radar: false }],
    },
  });

  it('is 10 dBm, or what the law leaves the antenna, and never under what the model sends', () => {
    expect(usualDbm(untyped(), 0, 'near', around)).toBe(10);
    expect(usualDbm(untyped(), 0, 'near', limited(30.7))).toBe(7.5);
    expect(usualDbm(untyped(), 0, 'near', limited(20))).toBe(0);
    expect(usualDbm(untyped(), 0, 'near', { ...around, law: null })).toBe(10);
    expect(
      usualDbm(untyped({ near: { ...end('38.71, -9.14', null), modelId: '' } }), 0, 'near', around),
    ).toBeUndefined();
  });

  it('is taken where nothing is typed, and breaks nothing', () => {
    expect(endPowerDbm(untyped(), 0, 'near', limited(30))).toBe(7);
    expect(endPowerDbm(untyped(), 0, 'far', limited(30))).toBe(10);
    expect(endPowerDbm(form({ near: { ...end(''), conductedDbm: 'ten' } }), 0, 'near', around)).toBeNaN();
    const hops = [{ ...emptyHop, name: 'to Barn', far: end('38.715, -9.14', null) }];
    expect(brokenIn(untyped({ hops }), limited(30))).toEqual([]);
  });
});
