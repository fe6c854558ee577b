import { describe, expect, it } from 'vitest';
import { AimWorld, Fading, MountAxisPlay, patternLossDb, Random, usualConditions, type WorldEnd } from '../src';

const beam = { azimuthDeg: 6, elevationDeg: 6 };

describe('antenna patterns of the stand-in world', () => {
  it.each(['dish', 'panel'] as const)('%s: 3 dB down at half the beam width', (aperture) => {
    expect(patternLossDb(aperture, 3, 0, beam) - patternLossDb(aperture, 0, 0, beam)).toBeCloseTo(3, 1);
  });

  it('has first side lobes where textbooks put them: 17.6 dB down for a round aperture, 13.3 for a square one (Balanis)', () => {
    const lobe = (aperture: 'dish' | 'panel', from: number, to: number) =>
      Math.min(
        ...Array.from({ length: 200 }, (_, i) => patternLossDb(aperture, from + ((to - from) * i) / 200, 0, beam)),
      );
    expect(lobe('dish', 7.5, 12)).toBeGreaterThan(17);
    expect(lobe('dish', 7.5, 12)).toBeLessThan(17.7);
    expect(lobe('panel', 7.5, 12)).toBeGreaterThan(12.9);
    expect(lobe('panel', 7.5, 12)).toBeLessThan(13.4);
  });
});

describe('mounts', () => {
  it('have play: the antenna follows only once it is taken up', () => {
    const mount = new MountAxisPlay(0, 0.5);
    mount.turn(0.2);
    expect(mount.antennaDeg).toBe(0);
    mount.turn(1);
    expect(mount.antennaDeg).toBeCloseTo(0.95, 9);
    mount.turn(-0.4);
    expect(mount.antennaDeg).toBeCloseTo(0.95, 9);
  });
});

describe('fading', () => {
  it('has the standard deviation and the correlation in time that it is given', () => {
    const fading = new Fading(1.5, 0.5, new Random(7));
    const values = Array.from({ length: 40_000 }, () => fading.step(0.1));
    const variance = values.reduce((s, v) => s + v * v, 0) / values.length;
    const lag = values.slice(5).reduce((s, v, i) => s + v * (values[i] ?? 0), 0) / values.length / variance;
    expect(Math.sqrt(variance)).toBeCloseTo(1.5, 1);
    expect(lag).toBeCloseTo(Math.exp(-1), 1); // half a second later
  });
});

describe('the world', () => {
  const end: WorldEnd = {
    aperture: 'dish',
    beam,
    startAzimuthDeg: 4,
    startTiltDeg: 1,
    playDeg: 0.5,
    alignedDbm: -50,
    floorDbm: -92,
    chains: 2,
  };

  it('reads in whole decibels, is the same for the same seed, and goes silent under the floor', () => {
    const make = (floorDbm: number) => new AimWorld({ ...end, floorDbm }, end, usualConditions, 3);
    const [a, b] = [make(-92), make(-92)];
    for (let i = 0; i < 20; i++) {
      a.step(0.1);
      b.step(0.1);
      const reading = a.read('near');
      expect(reading).toEqual(b.read('near'));
      expect(Number.isInteger(reading.rslDbm)).toBe(true);
    }
    const deaf = make(-40);
    deaf.step(0.1);
    expect(deaf.read('near').rslDbm).toBeNull();
  });

  it('keeps its mounts when saved and restored', () => {
    const world = new AimWorld(end, end, usualConditions, 3);
    world.turn('near', 'azimuth', -2.5);
    const again = new AimWorld(end, end, usualConditions, 3);
    again.restore(world.save());
    expect(again.offsetDeg('near', 'azimuth')).toBe(world.offsetDeg('near', 'azimuth'));
    expect(again.scaleDeg('near', 'azimuth')).toBe(world.scaleDeg('near', 'azimuth'));
  });
});
