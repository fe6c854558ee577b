import { describe, expect, it } from 'vitest';
import { judgeSteps, judgeThroughput, nextStep, worstState, type LinkFacts, type ThroughputCase } from '.';
import { expectTcp } from '../throughput';

const at = (rate: number, ethernetMbps = 1000) =>
  expectTcp({ phy: 'VHT', protocol: '802.11', phyRateMbps: rate, reversePhyRateMbps: rate, ethernetMbps });

const base: ThroughputCase = {
  measuredMbps: 0,
  aborted: false,
  bothLoaded: false,
  expectation: at(866.7),
  halfWidth: at(400),
  atMeasuredLevel: null,
  needMbps: 100,
  feedMbps: null,
};
const judge = (changes: Partial<ThroughputCase>) => judgeThroughput({ ...base, ...changes });

describe('judging a throughput test', () => {
  it('holds when it does what it should', () => {
    expect(judge({ measuredMbps: 620 })).toMatchObject({ state: 'holds', bottleneck: 'none' });
    expect(judge({ measuredMbps: 93, expectation: at(300, 100), needMbps: 40 })).toMatchObject({
      state: 'holds',
      bottleneck: 'ethernet',
    });
  });

  it.each([
    ['a 100 Mbit/s port', { measuredMbps: 93.5, needMbps: 50 }, 'thin', 'ethernet'],
    ['half the width', { measuredMbps: 325 }, 'thin', 'width'],
    ['the feed: 40 Mbit/s through a 900 Mbit/s pair', { measuredMbps: 40, feedMbps: 41 }, 'fails', 'feed'],
    ['a level that is short', { measuredMbps: 210, atMeasuredLevel: at(260) }, 'thin', 'radioRate'],
    ['turns with the other direction', { measuredMbps: 330, halfWidth: at(200) }, 'thin', 'halfDuplex'],
    ['nothing known', { measuredMbps: 480 }, 'thin', 'unknown'],
  ] as const)('names %s', (_, changes, state, bottleneck) => {
    expect(judge(changes)).toMatchObject({ state, bottleneck });
  });

  it('does not let a broken-off test prove anything', () => {
    expect(judge({ measuredMbps: 650, aborted: true }).state).toBe('open');
  });

  it('tells a plan that is too small from a link that is sick', () => {
    expect(judge({ measuredMbps: 640, needMbps: 900 }).headline).toContain('plan is too small');
  });
});

const facts: LinkFacts = {
  prediction: null,
  predictionError: 'Both ends stand at the same position',
  needNearToFarMbps: 10,
  needFarToNearMbps: 10,
  findings: [],
  sheetsExist: false,
  paired: null,
  mounted: { near: false, far: false },
  alignment: null,
  tests: [],
};

describe('judging how far a link is', () => {
  const of = (changes: Partial<LinkFacts>, step: string) =>
    judgeSteps({ ...facts, ...changes }).find((s) => s.step === step);

  it('begins with what fails', () => {
    const steps = judgeSteps(facts);
    expect(nextStep(steps)).toMatchObject({ step: 'path', state: 'fails' });
    expect(worstState(steps)).toBe('fails');
  });

  it('needs the pair to have been tried with these very settings', () => {
    expect(of({ sheetsExist: true }, 'bench')).toMatchObject({ state: 'open' });
    expect(of({ sheetsExist: true, paired: true }, 'bench')).toMatchObject({ state: 'holds' });
    expect(of({ sheetsExist: true, paired: false }, 'bench')).toMatchObject({ state: 'fails' });
  });

  it('needs both ends up and both directions proven', () => {
    expect(of({ mounted: { near: true, far: false } }, 'mount')?.because).toContain('near');
    const test = { state: 'holds', direction: 'nearToFar', headline: 'good' } as const;
    expect(of({ tests: [test] }, 'prove')).toMatchObject({ state: 'open' });
    expect(of({ tests: [test, { ...test, direction: 'farToNear' }] }, 'prove')).toMatchObject({ state: 'holds' });
    // The latest test of a direction counts, and they come newest first.
    expect(of({ tests: [test, { ...test, state: 'fails' }] }, 'prove')?.state).toBe('open');
  });

  it('takes 3 dB as clear and a side lobe as failed (common practice, no source)', () => {
    expect(of({ alignment: { diagnosis: 'clear', shortDb: 2 } }, 'aim')?.state).toBe('holds');
    expect(of({ alignment: { diagnosis: 'obstructed', shortDb: 6 } }, 'aim')?.state).toBe('thin');
    expect(of({ alignment: { diagnosis: 'sideLobe', shortDb: 17 } }, 'aim')?.state).toBe('fails');
  });
});
