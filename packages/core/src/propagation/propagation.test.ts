import { describe, expect, it } from 'vitest';
import { freeSpaceLossDb, fresnelRadiusM, keepOutDistanceM, noiseDbm, oxygenLossDbPerKm } from '.';

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

  it('loses about 15 dB/km to oxygen at 60 GHz and next to nothing at 5 GHz (ITU-R P.676, from memory)', () => {
    expect(oxygenLossDbPerKm(60_000)).toBeGreaterThan(14);
    expect(oxygenLossDbPerKm(60_000)).toBeLessThan(16);
    expect(oxygenLossDbPerKm(5_800)).toBeLessThan(0.01);
    expect(oxygenLossDbPerKm(57_000)).toBeCloseTo(oxygenLossDbPerKm(57_001), 1);
    expect(() => oxygenLossDbPerKm(70_000)).toThrow('63 GHz');
  });

  it('keeps people 0.178 m from 36 dBm EIRP at 10 W/m2 (ICNIRP 2020 limit; sphere of the far field)', () => {
    expect(keepOutDistanceM(36)).toBeCloseTo(Math.sqrt(3.981 / (4 * Math.PI * 10)), 3);
  });
});
