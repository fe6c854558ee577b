import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { freeSpaceLossDb } from './freeSpace';
import { fresnelRadiusM } from './fresnel';
import { gasLoss, atmosphereAt } from './gases';
import { noiseDbm } from './noise';
import {
  fccPowerDensityLimitWPerM2,
  keepOutDistanceM,
  keepOutOfBeam,
  nearFieldOf,
  publicPowerDensityLimitWPerM2,
} from './powerDensity';
import { foliageLossDb } from './vegetation';

describe('propagation', () => {
  it('loses 107.72 dB over 1 km at 5800 MHz (ITU-R P.525: 32.45 + 20 log km + 20 log MHz, constant rounded)', () => {
    expect(freeSpaceLossDb(1000, 5800)).toBeCloseTo(32.45 + 20 * Math.log10(5800), 1);
    expect(freeSpaceLossDb(1000, 5800)).toBeCloseTo(107.72, 1);
  });

  it('has a first Fresnel radius of 3.595 m in the middle of 1 km at 5.8 GHz (ITU-R P.526)', () => {
    expect(fresnelRadiusM(500, 500, 5800)).toBeCloseTo(3.595, 3);
  });

  it('hears -174 dBm of thermal noise in 1 Hz, -101 dBm in 20 MHz (physics)', () => {
    expect(noiseDbm(1e-6, 0)).toBeCloseTo(-173.98, 2);
    expect(noiseDbm(20, 0)).toBeCloseTo(-100.97, 1);
  });

  it.each([
    [0, 5800],
    [-5, 5800],
    [NaN, 5800],
    [0.01, 5800],
    [1000, 0],
    [1000, -1],
    [1000, Infinity],
  ])(
    'refuses free space over %d m at %d MHz, where the formula gives infinities or gains',
    (distanceM, frequencyMHz) => {
      expect(() => freeSpaceLossDb(distanceM, frequencyMHz)).toThrow(RangeError);
    },
  );
});

describe('loss in air (ITU-R P.676, sum of lines)', () => {
  const standard = { dryPressureHPa: 1013.25, temperatureC: 15, vapourGPerM3: 7.5 };

  // The ITU's validation examples for P.676 (study group 3, "CG-3M3J-13-ValEx", sheet P.676-11 SpAtt), from memory. That sums of 79 lines meet
  // them to four figures confirms both memories.
  it.each([
    [12, 0.008698264, 0.009535388],
    [20, 0.011883551, 0.097047304],
    [60, 14.62347474, 0.154841841],
    [90, 0.038869711, 0.341973394],
    [130, 0.041504562, 0.751844704],
  ])('%d GHz: oxygen %d, water vapour %d dB/km', (gHz, oxygen, water) => {
    const loss = gasLoss(gHz * 1000, standard);
    expect(loss.oxygenDbPerKm / oxygen).toBeCloseTo(1, 3);
    expect(loss.waterVapourDbPerKm / water).toBeCloseTo(1, 3);
  });

  // ITU-R P.676-10 annex 2, equation (22a) at 1013 hPa and 15 degrees, from memory: an approximation of its own, good to about a tenth.
  it.each([1, 2, 5, 10, 20, 30, 40])('dry air at %d GHz agrees with the approximation of P.676-10 annex 2', (f) => {
    const approximated = (7.2 / (f ** 2 + 0.34) + 0.62 / ((54 - f) ** 1.16 + 0.83)) * f ** 2 * 1e-3;
    const dry = gasLoss(1000 * f, { ...standard, vapourGPerM3: 0 });
    expect(dry.waterVapourDbPerKm).toBe(0);
    expect(dry.oxygenDbPerKm / approximated).toBeGreaterThan(0.88);
    expect(dry.oxygenDbPerKm / approximated).toBeLessThan(1.12);
  });

  it('does not end at 63 GHz: beyond the peak it falls step by step, and never by 11 dB over two channels', () => {
    const at = (mHz: number) => gasLoss(mHz).oxygenDbPerKm;
    expect(at(62_640)).toBeGreaterThan(at(64_800));
    expect(at(64_800)).toBeGreaterThan(4);
    expect(at(66_960)).toBeGreaterThan(0.5);
  });

  it('is mostly water vapour at 24 GHz, and next to nothing at 5 GHz', () => {
    const { oxygenDbPerKm, waterVapourDbPerKm } = gasLoss(24_000);
    expect(waterVapourDbPerKm).toBeGreaterThan(8 * oxygenDbPerKm);
    expect(gasLoss(5_800).oxygenDbPerKm + gasLoss(5_800).waterVapourDbPerKm).toBeLessThan(0.01);
  });

  it('takes less from thin dry air: 899 hPa, 8.5 degrees, 4.5 g/m3 at 1 km (ITU-R P.835 reference atmosphere)', () => {
    const high = atmosphereAt(1000);
    expect(high.dryPressureHPa).toBeCloseTo(898.8, 0);
    expect(high.temperatureC).toBeCloseTo(8.5, 6);
    expect(high.vapourGPerM3).toBeCloseTo(4.549, 3);
    expect(gasLoss(60_000, high).oxygenDbPerKm).toBeLessThan(gasLoss(60_000).oxygenDbPerKm);
  });

  it('refuses what the lines do not cover', () => {
    expect(() => gasLoss(0)).toThrow('1 and 1000000 MHz');
    expect(() => gasLoss(2e6)).toThrow(RangeError);
  });
});

describe('loss in trees (Weissberger 1982)', () => {
  it('is 0.45 f^0.284 dB a metre up to 14 m and bends over then', () => {
    expect(foliageLossDb(10, 1000)).toBeCloseTo(4.5, 6);
    expect(foliageLossDb(100, 1000)).toBeCloseTo(1.33 * 100 ** 0.588, 6);
    expect(foliageLossDb(0, 5800)).toBe(0);
  });

  it.each([
    [-1, 5800],
    [401, 5800],
    [10, 200],
    [10, 96_000],
    [NaN, 5800],
  ])('refuses %d m at %d MHz, which it was not fitted to', (depthM, frequencyMHz) => {
    expect(() => foliageLossDb(depthM, frequencyMHz)).toThrow('must lie between');
  });
});

describe('keeping out of the beam (ICNIRP 2020, table 5, general public)', () => {
  it.each([
    [160, 2],
    [400, 2],
    [450, 2.25],
    [900, 4.5],
    [2000, 10],
    [5800, 10],
    [60_480, 10],
  ])('at %d MHz the limit is %d W/m2', (frequencyMHz, limit) => {
    expect(publicPowerDensityLimitWPerM2(frequencyMHz)).toBeCloseTo(limit, 9);
  });

  it('keeps people 0.178 m from 36 dBm EIRP at 10 W/m2 (sphere of the far field), and farther from the same at 450 MHz', () => {
    expect(keepOutDistanceM(36, 10)).toBeCloseTo(Math.sqrt(3.981 / (4 * Math.PI * 10)), 3);
    expect(keepOutDistanceM(36, publicPowerDensityLimitWPerM2(450))).toBeCloseTo(0.178 * Math.sqrt(10 / 2.25), 3);
  });
});

describe('keeping out of the beam, 47 CFR 1.1310 and the near field of OET bulletin 65', () => {
  it.each([
    [150, 2],
    [450, 3],
    [900, 6],
    [1500, 10],
    [5800, 10],
  ])('at %d MHz the limit for the population is %d W/m2', (frequencyMHz, limit) => {
    expect(fccPowerDensityLimitWPerM2(frequencyMHz)).toBeCloseTo(limit, 9);
  });

  it('a dish of 3 m at 6 GHz with 100 W: reckoned by hand', () => {
    // D = 3 m at 0.55: G = 0.55 (pi 3 / 0.04997)^2 = 19,570, 42.92 dBi; near field up to 9 / 0.19986 = 45.0 m, far field from 108.1 m on
    const gainDbi = 10 * Math.log10(0.55 * ((Math.PI * 3) / 0.0499654) ** 2);
    const near = nearFieldOf(50 + gainDbi, gainDbi, 6000);
    expect(near.diameterM).toBeCloseTo(3, 3);
    expect(near.reachM).toBeCloseTo(45.03, 1);
    expect(near.farFromM).toBeCloseTo(108.1, 1);
    expect(near.densityWPerM2).toBeCloseTo((16 * 0.55 * 100) / (Math.PI * 9), 3);
  });

  it("is the far field's distance where that lies in the far field, and never more than it", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 80, noNaN: true }),
        fc.double({ min: 0, max: 50, noNaN: true }),
        fc.double({ min: 100, max: 90_000, noNaN: true }),
        (eirpDbm, gainDbi, frequencyMHz) => {
          const { distanceM, where } = keepOutOfBeam(eirpDbm, gainDbi, frequencyMHz, 10);
          const farM = keepOutDistanceM(eirpDbm, 10);
          if (where === 'far field') expect(distanceM).toBe(farM);
          else expect(distanceM).toBeLessThanOrEqual(nearFieldOf(eirpDbm, gainDbi, frequencyMHz).farFromM);
          expect(distanceM).toBeGreaterThanOrEqual(0);
        },
      ),
    );
  });
});
