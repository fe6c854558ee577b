import { describe, expect, it } from 'vitest';
import { Random } from '../src/random';
import { AimWorld, usualConditions, type WorldEnd } from '../src/world/aimWorld';
import { antennas, patternLossDb, type Antenna } from '../src/world/antenna';
import { makeFading, type FadingSetup } from '../src/world/fading';
import { Meter } from '../src/world/meter/meter';
import { Bolts } from '../src/world/mount/bolts';
import { MountAxis } from '../src/world/mount/mountAxis';
import { makePhone, type PhoneSetup } from '../src/world/phone';

const beam = { azimuthDeg: 6, elevationDeg: 6 };

/** Loss at the highest place of the first side lobe to one side, dB. */
function sideLobeDb(antenna: Antenna, side: 1 | -1): number {
  const at = (widths: number): number =>
    patternLossDb(antenna, side * widths * 6, 0, beam) - patternLossDb(antenna, 0, 0, beam);
  let widths = 0.8;
  while (at(widths + 0.02) > at(widths)) widths += 0.02;
  while (at(widths + 0.02) < at(widths)) widths += 0.02;
  return at(widths);
}

describe('antenna patterns of the stand-in world', () => {
  it.each((Object.keys(antennas) as Antenna[]).filter((name) => name !== 'rod'))(
    '%s: half of the power between its 3 dB points, and more nowhere else',
    (antenna) => {
      const lost = (widths: number): number =>
        patternLossDb(antenna, widths * 6, 0, beam) - patternLossDb(antenna, 0, 0, beam);
      expect((lost(0.5) + lost(-0.5)) / 2).toBeCloseTo(3, 0);
      for (let widths = -6; widths <= 6; widths += 0.05)
        expect(lost(widths), `${widths} widths off`).toBeGreaterThan(-1e-9);
    },
  );

  it('have first side lobes where textbooks put them: 17.6 dB down for a round aperture, 13.3 for a square one (Balanis)', () => {
    expect(sideLobeDb('evenDish', 1)).toBeCloseTo(17.6, 0);
    expect(sideLobeDb('evenPanel', -1)).toBeCloseTo(13.2, 0);
  });

  it('are of several families: lower side lobes, higher ones, unequal ones, and those that touch a planning line', () => {
    expect(sideLobeDb('taperedDish', 1)).toBeGreaterThan(22);
    expect(sideLobeDb('blockedDish', 1)).toBeLessThan(15);
    expect(sideLobeDb('bentDish', 1) - sideLobeDb('bentDish', -1)).toBeGreaterThan(8);
    expect(sideLobeDb('envelopeDish', 1)).toBeLessThan(15.5);
  });
});

describe('mounts', () => {
  const noPull = { pulledWidths: [0, 0], seconds: 0 } as const;
  const mountOf = (playDeg: number, bolts: Bolts = new Bolts(noPull, 6, new Random(1))): MountAxis =>
    new MountAxis(0, playDeg, bolts, [-3, 3]);

  it('have play: the antenna follows only once it is taken up', () => {
    const mount = mountOf(0.5);
    mount.turn(0.2);
    expect(mount.antennaDeg).toBe(0);
    mount.turn(1);
    expect(mount.antennaDeg).toBeCloseTo(0.95, 9);
    mount.turn(-0.4);
    expect(mount.antennaDeg).toBeCloseTo(0.95, 9);
  });

  it('end at their stops', () => {
    const mount = mountOf(0);
    expect(mount.turn(2)).toBe(2);
    expect(mount.turn(2)).toBe(1);
    expect(mount.turn(1)).toBe(0);
    expect(mount.antennaDeg).toBe(3);
  });

  it('are pulled the same way whenever they are tightened, slowly, and stay where that leaves them', () => {
    for (let seed = 1; seed < 20; seed++) {
      const mount = mountOf(0, new Bolts({ pulledWidths: [0.1, 0.4], seconds: 2 }, 6, new Random(seed)));
      const pulls = [1, 2, 3].map(() => {
        const from = mount.antennaDeg;
        mount.tighten(new Random(seed));
        expect(mount.isTight).toBe(false);
        for (let i = 0; i < 21; i++) mount.step(0.1);
        expect(mount.isTight).toBe(true);
        return mount.antennaDeg - from;
      });
      for (const pull of pulls) {
        expect(Math.sign(pull)).toBe(Math.sign(pulls[0] ?? 0));
        expect(Math.abs(pull)).toBeGreaterThan(0.3);
        expect(Math.abs(pull)).toBeLessThan(3.6);
      }
      expect(new Set(pulls).size).toBe(3);
    }
  });
});

describe('fading', () => {
  /** Levels over a long time, ten a second. */
  const series = (setup: FadingSetup): number[] => {
    const fading = makeFading(setup, new Random(7));
    return Array.from({ length: 60_000 }, () => fading.step(0.1));
  };
  const mean = (values: number[]): number => values.reduce((s, v) => s + v, 0) / values.length;

  it('has the standard deviation and the correlation in time that it is given', () => {
    const values = series({ kind: 'gaussian', sdDb: 1.5, correlationS: 0.5 });
    const variance = mean(values.map((v) => v * v));
    const lag = values.slice(5).reduce((s, v, i) => s + v * (values[i] ?? 0), 0) / values.length / variance;
    expect(Math.sqrt(variance)).toBeCloseTo(1.5, 1);
    expect(lag).toBeCloseTo(Math.exp(-1), 1); // half a second later
  });

  it('by Rice keeps the mean power, and goes deeper down than up', () => {
    const values = series({ kind: 'rician', kDb: 6, correlationS: 0.5 });
    expect(10 * Math.log10(mean(values.map((v) => 10 ** (v / 10))))).toBeCloseTo(0, 0);
    const sorted = [...values].sort((a, b) => a - b);
    const at = (share: number): number => sorted[Math.floor(share * sorted.length)] ?? NaN;
    expect(at(0.5) - at(0.01)).toBeGreaterThan(2 * (at(0.99) - at(0.5)));
  });
});

describe('phones', () => {
  const errors = (setup: PhoneSetup, trueDeg: (tS: number) => number): number[] => {
    const phone = makePhone(setup, new Random(4));
    return Array.from({ length: 600 }, (_, i) => phone.read(trueDeg(i / 10), i / 10) - trueDeg(i / 10));
  };
  const noiseDeg = 1e-9;

  it('that wander are off by what they drift in a minute', () => {
    const off = errors({ kind: 'wandering', noiseDeg, degPerMinute: 1.5 }, () => 10);
    expect(Math.max(...off.map(Math.abs))).toBeLessThanOrEqual(1.5);
    expect(Math.abs(off[100] ?? 0)).toBeCloseTo(0.25, 1);
  });

  it('near iron are off by where they point, the same each time', () => {
    const there = errors({ kind: 'nearIron', noiseDeg, pulledDeg: 3, withinDeg: 24 }, (tS) => tS / 2);
    expect(Math.max(...there) - Math.min(...there)).toBeCloseTo(6, 0);
    expect(errors({ kind: 'nearIron', noiseDeg, pulledDeg: 3, withinDeg: 24 }, () => 5)[9]).toBeCloseTo(
      there[100] ?? NaN,
      6,
    );
  });
});

describe('meters', () => {
  it('tell a level once a second, and lose some', () => {
    const meter = new Meter({ everyS: 1, quantumDb: 1, missingShare: 0.1 }, new Random(2));
    let news = 0;
    for (let i = 0; i < 10_000; i++) if (meter.hasNews(i / 10)) news++;
    expect(news).toBeGreaterThan(850);
    expect(news).toBeLessThan(940);
    expect(meter.shown(-50.4)).toBe(-50);
  });
});

describe('the world', () => {
  const end: WorldEnd = {
    antenna: 'evenDish',
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
