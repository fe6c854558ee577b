import { describe, expect, it } from 'vitest';
import type { PathTerrain } from './plan';
import { predictLink } from './prediction';
import { lawOf } from '../spectrum/ruleSet';
import { testLaw } from '../../test/law';
import { endOf as end, oneKmDeg, planOf as plan } from '../../test/plans';

describe('prediction of a link', () => {
  it('adds up: 16 + 20 - 107.72 + 20 dBm over 1 km at 5800 MHz (ITU-R P.525)', () => {
    const p = predictLink(plan());
    expect(p.distanceM).toBeCloseTo(1000, 0);
    expect(p.near.rslDbm).toBeCloseTo(-51.72, 1);
    expect(p.near.eirpDbm).toBe(36);
    expect(p.far.azimuthDeg).toBeCloseTo(180, 6);
    expect(p.near.step?.mcs).toBe(8);
    expect(p.near.marginDb).toBeCloseTo(82 - 51.72, 1);
  });

  it('keeps a ledger whose lines lead to the level', () => {
    for (const e of [predictLink(plan()).near, predictLink(plan({ far: end(oneKmDeg, { cableLossDb: 1.5 }) })).near]) {
      const changes = e.ledger.filter((l) => l.kind === 'change').reduce((sum, l) => sum + l.value, 0);
      expect((e.ledger[0]?.value ?? 0) + changes).toBeCloseTo(e.rslDbm, 9);
      expect(e.ledger.at(-1)?.runningDbm).toBe(e.rslDbm);
    }
  });

  it('lets each end hear the other transmitter: powers differ, levels differ the other way round', () => {
    const p = predictLink(plan({ far: end(oneKmDeg, { conductedDbm: 10 }) }));
    expect(p.far.rslDbm - p.near.rslDbm).toBeCloseTo(6, 9);
  });

  it('loses about 15 dB a kilometre more at 60 GHz to oxygen', () => {
    const p = predictLink(plan({ air: { centreMHz: 60_480 } }));
    const oxygen = p.near.ledger.find((l) => l.key === 'oxygen');
    expect(oxygen?.value).toBeLessThan(-13);
  });

  it('says what the law allows, and where it allows nothing', () => {
    expect(predictLink(plan()).near.eirpLimitDbm).toBe(36);
    expect(predictLink(plan({ law: lawOf(testLaw, 'XM') })).near.eirpLimitDbm).toBeUndefined();
    expect(predictLink(plan({ air: { centreMHz: 5500 } })).radarWatch).toBe(true);
  });

  it('finds a receiver overloaded, and a level below every step', () => {
    const close = predictLink(plan({ far: end(oneKmDeg / 50) }));
    expect(close.near.overloaded).toBe(true);
    const weak = predictLink(plan({ near: end(0, { conductedDbm: 0, cableLossDb: 30 }), far: end(oneKmDeg * 10) }));
    expect(weak.far.step).toBeUndefined();
    expect(weak.far.marginDb).toBeLessThan(0);
    expect(weak.nearToFar.aloneMbps).toBe(0);
  });

  it('keeps the surface of a terrain for the ends it was made for only', () => {
    const groundM = Array.from({ length: 101 }, (_, i) => (i === 50 ? 12 : 0));
    const terrain: PathTerrain = { profile: { distanceM: 1000, groundM }, obstacles: [], year: 2026 };
    const over = (heightM: number, farM = 0, ground: PathTerrain = terrain) =>
      predictLink(
        plan({
          near: end(0, { mountHeightM: heightM }),
          far: end(oneKmDeg, { mountHeightM: heightM, groundHeightM: farM }),
          terrain: ground,
        }),
      );
    const first = over(10);
    const risen = over(20);
    expect(risen.path?.surface).toBe(first.path?.surface);
    expect(risen.near.rslDbm).toBeGreaterThan(first.near.rslDbm + 6);
    expect(risen.near.rslDbm).toBe(over(20, 0, { ...terrain }).near.rslDbm);
    const other = over(20, 3);
    expect(other.path?.surface).not.toBe(first.path?.surface);
    expect(over(10, 0, { ...terrain, year: 2027 }).path?.surface).not.toBe(first.path?.surface);
  });

  it('refuses two ends at one position', () => {
    expect(() => predictLink(plan({ far: end(0) }))).toThrow('same position');
  });
});
