import { describe, expect, it } from 'vitest';
import { marginLines } from './marginLines';
import type { LinkPlan } from './plan';
import { predictLink } from './prediction';
import { endOf, oneKmDeg, planOf } from '../../test/plans';

const linesOf = (plan: LinkPlan) => {
  const { far, need } = predictLink(plan);
  return { far, lines: marginLines(far, need && need.fadeDb) };
};

describe('a ledger below the received level', () => {
  it('goes down to where the need is no longer met, and on to where nothing crosses', () => {
    const { far, lines } = linesOf(planOf({ need: { nearToFarMbps: 40, farToNearMbps: 20, othersLoad: 0 } }));
    expect(lines.map(({ key }) => key)).toEqual(['needMargin', 'dropMargin']);
    const sum = lines.reduce((level, { value }) => level + value, far.rslDbm);
    expect(sum).toBeCloseTo(far.ladder[0]?.fromDbm ?? NaN, 9);
    expect(lines.at(-1)?.runningDbm).toBeCloseTo(far.rslDbm - far.marginDb, 9);
    // The level at which the need ends is that of a step: nothing changes between them.
    const froms = far.ladder.map(({ fromDbm }) => fromDbm);
    expect(Math.min(...froms.map((dbm) => Math.abs(dbm - (lines[0]?.runningDbm ?? NaN))))).toBeLessThan(1e-9);
  });

  it('says what is missing where it is not reached, and leaves a need out that is not met', () => {
    const faint = planOf({
      need: { nearToFarMbps: 40, farToNearMbps: 20, othersLoad: 0 },
      near: endOf(0, { conductedDbm: 0, cableLossDb: 30 }),
      far: endOf(oneKmDeg * 10),
    });
    const { far, lines } = linesOf(faint);
    expect(lines).toMatchObject([{ key: 'dropMargin', label: 'Missing to the slowest step' }]);
    expect(lines[0]?.value).toBeCloseTo(-far.marginDb, 9);
    expect(lines[0]?.value).toBeGreaterThan(0);
  });

  it('is one line where nothing is asked', () => {
    expect(linesOf(planOf()).lines).toMatchObject([{ label: 'Margin until it drops' }]);
  });
});
