import { describe, expect, it } from 'vitest';
import { fastestStep, rateSteps, type Model } from './model';

const model = {
  phy: 'VHT',
  streams: 2,
  sensitivities: [
    // IEEE 802.11-2020 clause 21 minimum sensitivities at 20 MHz, MCS 0 to 9, from memory
    ...[-82, -79, -77, -74, -70, -66, -65, -64, -59, -57].map((rslDbm, mcs) => ({ mcs, widthMHz: 20, rslDbm })),
    // and 3 dB more for twice the width
    ...[-79, -76, -74, -71, -67, -63, -62, -61, -56, -54].map((rslDbm, mcs) => ({ mcs, widthMHz: 40, rslDbm })),
  ],
} as Model;

describe('steps of a model', () => {
  it('leave out what the standard leaves out: no MCS 9 in 20 MHz with two streams', () => {
    expect(rateSteps(model, 20).map((s) => s.mcs)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8]);
    expect(rateSteps(model, 40).map((s) => s.mcs)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9]);
    expect(rateSteps(model, 80)).toEqual([]);
  });

  it('rise in rate as they rise in need', () => {
    const steps = rateSteps(model, 40);
    steps.slice(1).forEach((step, i) => {
      expect(step.phyRateMbps).toBeGreaterThan(steps[i]?.phyRateMbps ?? Infinity);
      expect(step.sensitivityDbm).toBeGreaterThan(steps[i]?.sensitivityDbm ?? Infinity);
    });
  });

  it.each([
    [-81.9, 0],
    [-82, 0],
    [-70.1, 3],
    [-70, 4],
    [-40, 8],
  ])('at %f dBm reach MCS %i', (rslDbm, mcs) => {
    expect(fastestStep(rateSteps(model, 20), rslDbm)?.mcs).toBe(mcs);
  });

  it('reach none under the weakest', () => {
    expect(fastestStep(rateSteps(model, 20), -82.1)).toBeUndefined();
  });
});
