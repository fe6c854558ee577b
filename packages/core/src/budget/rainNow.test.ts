import { describe, expect, it } from 'vitest';
import { airOf, endOf, modelOf, oneKmDeg, planOf } from '../../test/plans';
import { showerLossDb } from '../propagation/rain';
import type { LinkPlan } from './plan';
import { predictLink } from './prediction';

/** A kilometre at 60 GHz, where rain is felt; steps from MCS 1 of IEEE 802.11-2020 clause 20, made-up levels. */
const model = modelOf({
  band: '60GHz',
  lowestMHz: 57_000,
  highestMHz: 66_000,
  phy: 'DMG',
  streams: 1,
  widthsMHz: [2160],
  antennaGainDbi: 38,
  beamWidth: { azimuthDeg: 2, elevationDeg: 2 },
  sensitivities: [-68, -66, -64, -62, -60, -58, -56, -54].map((rslDbm, i) => ({ mcs: i + 1, widthMHz: 2160, rslDbm })),
});
const over60 = (changes: Partial<LinkPlan> = {}): LinkPlan =>
  planOf({
    air: airOf({ centreMHz: 60_480, widthMHz: 2160 }),
    near: endOf(0, { model, conductedDbm: 8 }),
    far: endOf(oneKmDeg, { model, conductedDbm: 8, role: 'station' }),
    climate: { class: 'continental', rainMmPerH: null },
    need: { nearToFarMbps: 500, farToNearMbps: 100, othersLoad: 0 },
    ...changes,
  });

describe('rain that falls now', () => {
  const [clear, wet] = [predictLink(over60()), predictLink(over60({ rainNowMmPerH: 82 }))];
  const lossDb = showerLossDb(clear.slantRangeM, 60_480, 'dual', 82);

  it('weakens both levels, and costs margin, steps and rate both ways', () => {
    expect(lossDb).toBeGreaterThan(20);
    for (const end of ['near', 'far'] as const) {
      expect(wet[end].rslDbm).toBeCloseTo(clear[end].rslDbm - lossDb, 9);
      expect(wet[end].marginDb).toBeCloseTo(clear[end].marginDb - lossDb, 9);
      expect(wet[end].ledger.find((l) => l.key === 'rainNow')?.value).toBeCloseTo(-lossDb, 9);
    }
    for (const direction of ['nearToFar', 'farToNear'] as const)
      expect(wet[direction].aloneMbps).toBeLessThan(clear[direction].aloneMbps);
    expect(wet.need?.fadeDb).toBeLessThan(clear.need?.fadeDb ?? NaN);
  });

  it('leaves the minutes of the year, which are the climate’s', () => {
    expect(wet.need?.below.totalMin).toBeCloseTo(clear.need?.below.totalMin ?? NaN, 6);
    wet.far.ladder.forEach((step, i) =>
      expect(step.below.totalMin).toBeCloseTo(clear.far.ladder[i]?.below.totalMin ?? NaN, 6),
    );
  });

  it('is another thing than a wetter climate, which leaves the levels', () => {
    const wetter = predictLink(over60({ climate: { class: 'continental', rainMmPerH: 82 } }));
    expect(wetter.far.rslDbm).toBe(clear.far.rslDbm);
    expect(wetter.need?.below.totalMin).toBeGreaterThan(2 * (clear.need?.below.totalMin ?? NaN));
  });
});
