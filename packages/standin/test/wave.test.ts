import type { LinkPlan } from '@kivram/core/budget/plan';
import { predictLink } from '@kivram/core/budget/prediction';
import { describe, expect, it } from 'vitest';
import { arrivingDbm, type WaveEnd, type WavePath } from '../src/world/wave';
import { testLaw, testModel } from './models';

const end = (latitudeDeg: number, heightM = 15): WaveEnd => ({
  latitudeDeg,
  longitudeDeg: 0,
  heightM,
  powerDbm: 10,
  gainDbi: 23,
  cableLossDb: 1,
});
/** Two kilometres along the meridian: 110.574 km a degree at the equator (WGS84). */
const path = (changes: Partial<WavePath> = {}): WavePath => ({
  from: end(0),
  to: end(2 / 110.574),
  frequencyMHz: 5800,
  groundM: [],
  shaftM: null,
  ...changes,
});

describe('the wave of the stand-in world', () => {
  it('loses 113.7 dB over 2 km at 5.8 GHz (Friis)', () => {
    expect(arrivingDbm(path())).toBeCloseTo(10 + 23 + 23 - 2 - 113.74, 1);
    expect(arrivingDbm(path({ shaftM: 20 }))).toBeCloseTo(10 + 23 + 23 - 2 - 73.74, 1);
  });

  it('loses 6 dB when an edge just touches the sight line (Fresnel, exact value 6.02)', () => {
    const groundM = Array.from({ length: 101 }, (_, i) => (i === 50 ? 15 - 0.0589 : 0));
    expect(arrivingDbm(path()) - arrivingDbm(path({ groundM }))).toBeCloseTo(6.02, 0);
  });

  it('loses about 15 dB a kilometre in the band of oxygen', () => {
    const near60 = (shaftM: number): number => arrivingDbm(path({ frequencyMHz: 60_480, shaftM }));
    expect(near60(1000) - near60(2000)).toBeGreaterThan(6 + 13);
  });

  it('and the prediction agree within half a decibel over open water, though they share no formula', () => {
    const model = testModel();
    const radio = {
      groundHeightM: 0,
      mountHeightM: 15,
      model,
      conductedDbm: 10,
      cableLossDb: 1,
      cable: null,
      aimOffDeg: 0,
      interferenceDb: 0,
      polarisation: 'dual' as const,
      azimuthDeg: null,
      tiltDeg: null,
    };
    const plan: LinkPlan = {
      air: { kind: 'pair', centreMHz: 5800, returnMHz: null, widthMHz: 20, protocol: '802.11', errorCorrection: false },
      near: { ...radio, role: 'access', position: { latitudeDeg: 0, longitudeDeg: 0 } },
      far: { ...radio, role: 'station', position: { latitudeDeg: 2 / 110.574, longitudeDeg: 0 } },
      law: testLaw[0] ?? null,
      day: '2026-06-15',
    };
    const groundM = Array.from({ length: 201 }, () => 0);
    expect(Math.abs(predictLink(plan).far.rslDbm - arrivingDbm(path({ groundM })))).toBeLessThan(0.5);
  });

  it('loses more behind a second hill, and more behind a higher one', () => {
    const hills = (...tops: [number, number][]) =>
      arrivingDbm(path({ groundM: Array.from({ length: 201 }, (_, i) => tops.find(([at]) => at === i)?.[1] ?? 0) }));
    expect(hills([80, 18], [140, 18])).toBeLessThan(hills([80, 18]) - 3);
    expect(hills([80, 25])).toBeLessThan(hills([80, 18]) - 2);
    expect(hills([80, 5])).toBeCloseTo(hills(), 0);
  });
});
