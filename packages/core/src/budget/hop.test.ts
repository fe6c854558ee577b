import { describe, expect, it } from 'vitest';
import { radioKinds } from '../radio/kinds';
import { narrowbandWidthsMHz } from '../radio/kinds/narrowband';
import { predictLink, tryPredict } from './prediction';
import type { RuleSet } from '../spectrum/ruleSet';
import { endOf, licenceOf, modelOf, oneKmDeg, planOf } from '../../test/plans';

const narrow = (widthMHz: number, errorCorrection: boolean) => {
  const model = modelOf({
    band: 'licensed',
    phy: 'NB',
    lowestMHz: 406,
    highestMHz: 470,
    widthsMHz: [...narrowbandWidthsMHz],
    streams: 1,
    sensitivities: [false, true].flatMap((fec) =>
      radioKinds.NB.steps.map((mcs) => ({
        mcs,
        widthMHz,
        rslDbm: radioKinds.NB.minimumSensitivityDbm(mcs, widthMHz, fec),
        errorCorrection: fec,
      })),
    ),
  });
  return planOf({
    air: { kind: 'duplex', centreMHz: 457.5, returnMHz: 467.5, widthMHz, errorCorrection },
    near: endOf(0, { model, conductedDbm: 10 }),
    far: endOf(10 * oneKmDeg, { model, conductedDbm: 10, role: 'station' }),
  });
};

describe('a hop', () => {
  const sector = modelOf({ beamWidth: { azimuthDeg: 90, elevationDeg: 10 } });

  it('loses what an antenna loses off its boresight, in both directions, with a line of its own', () => {
    const aimed = predictLink(planOf({ near: endOf(0, { model: sector }) }));
    // The far end lies due north; the sector points 45 degrees east of it: 3 dB (half the beam width).
    const off = predictLink(planOf({ near: endOf(0, { model: sector, azimuthDeg: 45, tiltDeg: 0 }) }));
    expect(aimed.far.rslDbm - off.far.rslDbm).toBeCloseTo(3, 2);
    expect(aimed.near.rslDbm - off.near.rslDbm).toBeCloseTo(3, 2);
    expect(off.far.ledger.map((l) => l.key)).toContain('txPointing');
    expect(off.near.ledger.map((l) => l.key)).toContain('rxPointing');
    expect(aimed.far.ledger.map((l) => l.key)).not.toContain('txPointing');
    // The law counts the beam, not the direction.
    expect(off.near.eirpDbm).toBe(aimed.near.eirpDbm);
  });

  it('goes by the pattern of an antenna where there is one', () => {
    const cut = [-180, -20, 0, 20, 180].map((angleDeg) => ({ angleDeg, lossDb: Math.min(25, Math.abs(angleDeg) / 2) }));
    const drawn = modelOf({ pattern: { azimuth: cut, elevation: cut } });
    const aimed = predictLink(planOf({ near: endOf(0, { model: drawn }) }));
    const off = predictLink(planOf({ near: endOf(0, { model: drawn, azimuthDeg: 10, tiltDeg: 0 }) }));
    expect(aimed.far.rslDbm - off.far.rslDbm).toBeCloseTo(5, 1);
    expect(off.far.ledger.find((l) => l.key === 'txPointing')?.source).toContain('pattern of');
  });

  it('reaches a step by the power that it is sent with', () => {
    const { rslDbm, step } = predictLink(planOf()).far;
    const fastest = step?.mcs ?? 0;
    const spareDb = rslDbm - (step?.sensitivityDbm ?? 0);
    /** a model whose fastest step in reach is sent with so much less than the plan's power */
    const quiet = (lessDb: number) =>
      modelOf({
        sensitivities: modelOf().sensitivities.map((s) =>
          s.mcs === fastest ? { ...s, mostConductedDbm: planOf().near.conductedDbm - lessDb } : s,
        ),
      });
    const reached = (lessDb: number) => predictLink(planOf({ near: endOf(0, { model: quiet(lessDb) }) })).far.step?.mcs;
    expect(reached(spareDb - 0.1)).toBe(fastest);
    expect(reached(spareDb + 0.1)).toBe(fastest - 1);
    // What the far end sends is not concerned.
    expect(predictLink(planOf({ near: endOf(0, { model: quiet(60) }) })).near.step?.mcs).toBe(fastest);
  });

  it('takes no step that only one of the two knows', () => {
    const slow = modelOf({ sensitivities: modelOf().sensitivities.slice(0, 3) });
    expect(predictLink(planOf({ near: endOf(0, { model: slow }) })).far.step?.mcs).toBe(2);
    expect(predictLink(planOf({ near: endOf(0, { model: slow }) })).near.step?.mcs).toBe(2);
  });

  it('gives the words where there is no prediction', () => {
    expect(tryPredict(planOf({ far: endOf(0) }))).toMatchObject({ prediction: null });
    expect(tryPredict(planOf()).predictionError).toBeNull();
  });
});

describe('a licensed pair', () => {
  it('sends each way on its own frequency, which free space tells apart', () => {
    const { near, far } = predictLink(narrow(0.025, false));
    expect(near.channel.centreMHz).toBe(457.5);
    expect(far.channel.centreMHz).toBe(467.5);
    // 20 log(467.5 / 457.5): the far end hears the lower frequency, which loses less in free space and more over the ground.
    const loss = (end: typeof near, key: string) => end.ledger.find((l) => l.key === key)?.value ?? 0;
    expect(loss(far, 'freeSpace') - loss(near, 'freeSpace')).toBeCloseTo(20 * Math.log10(467.5 / 457.5), 6);
    expect(loss(far, 'diffraction')).toBeLessThan(loss(near, 'diffraction'));
  });

  it('carries both directions at once, at a rate of its own for every spacing', () => {
    for (const widthMHz of narrowbandWidthsMHz) {
      const { nearToFar, farToNear } = predictLink(narrow(widthMHz, false));
      expect(nearToFar.aloneMbps).toBeGreaterThan(0.5 * 8 * 0.71 * widthMHz);
      expect(nearToFar.bothMbps).toBeGreaterThan(0.9 * nearToFar.aloneMbps);
      expect(farToNear.aloneMbps).toBeCloseTo(nearToFar.aloneMbps, 9);
    }
  });

  it('is slower and reaches further with error correction', () => {
    const [plain, coded] = [predictLink(narrow(0.3, false)), predictLink(narrow(0.3, true))];
    expect(coded.nearToFar.aloneMbps).toBeLessThan(plain.nearToFar.aloneMbps);
    expect(coded.near.marginDb).toBeGreaterThan(plain.near.marginDb + 3);
  });

  it('falls under its licence and nothing else, and that opens nothing to others', () => {
    const plan = narrow(0.025, false);
    expect(predictLink(plan).near).toMatchObject({
      eirpLimitDbm: undefined,
      lawRefusal: 'no licence is chosen for 457.5 MHz, and nobody may send there without one',
    });
    expect(predictLink({ ...plan, licence: licenceOf() }).near).toMatchObject({
      eirpLimitDbm: 44,
      lawRefusal: undefined,
    });
    const restriction = {
      lowestMHz: 457,
      highestMHz: 458,
      mostEirpDbm: 30,
      radar: false,
      layer: 'restriction' as const,
    };
    const law = { ...(plan.law as RuleSet), rules: [restriction, ...(plan.law?.rules ?? [])] };
    const both = predictLink({ ...plan, law, licence: licenceOf() });
    expect([both.near.eirpLimitDbm, both.far.eirpLimitDbm]).toEqual([30, 44]);
    const open = planOf({ air: { centreMHz: 457.5, widthMHz: 20 }, licence: licenceOf() });
    expect(predictLink(open).near.eirpLimitDbm).toBeUndefined();
  });
});
