import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { airProblem, sendingChannel, type Air } from './air';
import { relayedMbps, shareAir } from './airtime';

const pair: Air = {
  kind: 'pair',
  centreMHz: 5775,
  returnMHz: null,
  widthMHz: 80,
  protocol: '802.11',
  errorCorrection: false,
};
const duplex: Air = { ...pair, kind: 'duplex', centreMHz: 457.5, returnMHz: 467.5, widthMHz: 0.025 };

describe('the channel of a radio', () => {
  it('is one for all, but for a licensed pair, whose ends exchange their frequencies', () => {
    expect(sendingChannel(pair, 'access')).toEqual(sendingChannel(pair, 'station'));
    expect(sendingChannel(duplex, 'access').centreMHz).toBe(457.5);
    expect(sendingChannel(duplex, 'station').centreMHz).toBe(467.5);
  });

  it('must fit its kind', () => {
    expect(airProblem(pair)).toBeUndefined();
    expect(airProblem(duplex)).toBeUndefined();
    expect(airProblem({ ...duplex, returnMHz: null })).toContain('needs two frequencies');
    expect(airProblem({ ...duplex, returnMHz: 457.51 })).toContain('0.01 MHz apart');
    expect(airProblem({ ...pair, returnMHz: 5500 })).toContain('Only a licensed pair');
  });
});

describe('sharing airtime', () => {
  it('gives a pair what the other direction leaves', () => {
    const [down, up] = shareAir([
      { aloneMbps: 200, needMbps: 50 },
      { aloneMbps: 100, needMbps: 25 },
    ]);
    expect(down).toEqual({ load: 0.25, sharedMbps: 150 });
    expect(up).toEqual({ load: 0.25, sharedMbps: 75 });
  });

  it('lets a slow station cost the fast ones', () => {
    const fast = { aloneMbps: 300, needMbps: 30 };
    const share = (slowMbps: number) => shareAir([fast, { aloneMbps: slowMbps, needMbps: 10 }])[0]?.sharedMbps ?? NaN;
    expect(share(100)).toBeCloseTo(270, 9);
    expect(share(20)).toBeCloseTo(150, 9);
    expect(share(5)).toBe(0);
  });

  it('fits exactly while the loads sum to no more than the whole time', () => {
    const member = fc.record({
      aloneMbps: fc.double({ min: 1, max: 1000, noNaN: true }),
      needMbps: fc.double({ min: 0.1, max: 500, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(member, { minLength: 1, maxLength: 6 }), (members) => {
        const shares = shareAir(members);
        const total = shares.reduce((sum, s) => sum + s.load, 0);
        fc.pre(Math.abs(total - 1) > 1e-9);
        const all = shares.every((s, i) => s.sharedMbps >= (members[i]?.needMbps ?? 0));
        expect(all).toBe(total < 1);
      }),
    );
  });

  it('gives a member that carries nothing nothing, and does not poison the rest with NaN', () => {
    const shares = shareAir([
      { aloneMbps: 0, needMbps: 5 },
      { aloneMbps: 100, needMbps: 5 },
      { aloneMbps: 0, needMbps: 0 },
    ]);
    expect(shares.map((s) => s.sharedMbps)).toEqual([0, 0, 0]);
    expect(shares.map((s) => s.load)).toEqual([Infinity, 0.05, 0]);
  });
});

describe('a chain of relays', () => {
  it('halves with each hop of the same rate on one radio (common practice, no source: about half a hop)', () => {
    expect(relayedMbps([100])).toBe(100);
    expect(relayedMbps([100, 100])).toBe(50);
    expect(relayedMbps([100, 100, 100])).toBeCloseTo(33.3, 1);
    expect(relayedMbps([100, 0])).toBe(0);
  });
});
