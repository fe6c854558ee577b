import { describe, expect, it } from 'vitest';
import { endOf, modelOf, oneKmDeg, planOf } from '../../test/plans';
import type { Model } from '../gear/model';
import { keepOutOf } from './keepOut';

const before = (conductedDbm: number, changes: Partial<Model>) =>
  keepOutOf(planOf({ near: endOf(0, { conductedDbm, model: modelOf(changes) }), far: endOf(oneKmDeg) }), 'near');

describe('keeping out of the beam', () => {
  it('is never under 20 cm (47 CFR 2.1091), however little is sent', () => {
    expect(before(-10, {})).toMatchObject({ distanceM: 0.2, words: 'the least before any antenna that sends' });
    // A dish whose beam reaches the limit nowhere: 1 mW through 30 dBi.
    expect(before(0, { antennaGainDbi: 30, beamWidth: { azimuthDeg: 5, elevationDeg: 5 } }).distanceM).toBe(0.2);
  });

  it('is rounded up: sqrt(EIRP / (4 pi 10 W/m2)) at 5.8 GHz is 0.564 m for 46 dBm', () => {
    const sector = { antennaGainDbi: 16, beamWidth: { azimuthDeg: 90, elevationDeg: 8 } };
    expect(before(30, sector)).toMatchObject({ distanceM: 0.6, words: 'by the far field' });
    expect(before(30, sector).icnirpM).toBeCloseTo(Math.sqrt(39.81 / (4 * Math.PI * 10)), 3);
  });

  it('goes by the near field in front of a dish only', () => {
    const large = { antennaGainDbi: 43, beamWidth: { azimuthDeg: 1.2, elevationDeg: 1.2 } };
    const dish = before(48, large);
    const other = before(48, { ...large, beamWidth: { azimuthDeg: 1.2, elevationDeg: 60 } });
    expect(dish.words).toContain('of the dish');
    expect(other.words).toBe('by the far field');
    expect(dish.distanceM).toBeLessThan(other.distanceM);
  });

  it('takes the stricter of two limits: at 450 MHz 2.25 W/m2 against 3', () => {
    const model = modelOf({ beamWidth: { azimuthDeg: 40, elevationDeg: 40 } });
    const kept = keepOutOf(planOf({ air: { centreMHz: 450 }, near: endOf(0, { conductedDbm: 30, model }) }), 'near');
    expect(kept.icnirpM / kept.fccM).toBeCloseTo(Math.sqrt(3 / 2.25), 1);
    expect(kept.distanceM).toBeGreaterThanOrEqual(kept.icnirpM);
  });
});
