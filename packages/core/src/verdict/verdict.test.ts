import { describe, expect, it } from 'vitest';
import {
  evidenceText,
  judgeSteps,
  judgeThroughput,
  nextStep,
  worstState,
  type LinkFacts,
  type ProofTest,
  type ThroughputCase,
} from '.';
import { predictLink } from '../budget';
import type { Basis, Evidence } from '../evidence';
import { airOf, planOf } from '../../test/plans';
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

const basis: Basis = { air: airOf() };
const evidence = (changes: Partial<Evidence> = {}): Evidence => ({
  kind: 'measured',
  at: '2026-05-04T10:00:00Z',
  crewMemberId: null,
  basis,
  ...changes,
});
const facts: LinkFacts = {
  practice: false,
  prediction: null,
  predictionError: 'Both ends stand at the same position',
  need: { nearToFar: 10, farToNear: 10 },
  shared: null,
  findings: [],
  sheetsExist: false,
  pairing: null,
  mounted: { near: null, far: null },
  alignment: null,
  tests: { nearToFar: null, farToNear: null },
  basis,
};
const proof = (measuredMbps: number, more: Partial<Evidence> = {}, aborted = false): ProofTest => ({
  measured: { measuredMbps, aborted, bothLoaded: false },
  expectedMbps: 100,
  evidence: evidence(more),
});

describe('judging how far a link is', () => {
  const of = (changes: Partial<LinkFacts>, step: string) =>
    judgeSteps({ ...facts, ...changes }).find((s) => s.step === step);
  const paired = (linked: boolean, more: Partial<Evidence> = {}) => ({
    sheetsExist: true,
    pairing: { linked, evidence: evidence(more) },
  });

  it('begins with what fails', () => {
    const steps = judgeSteps(facts);
    expect(nextStep(steps)).toMatchObject({ step: 'path', state: 'fails' });
    expect(worstState(steps)).toBe('fails');
  });

  it('needs the pair to have been tried with these very settings', () => {
    expect(of({ sheetsExist: true }, 'bench')).toMatchObject({ state: 'open', evidence: null });
    expect(of(paired(true), 'bench')).toMatchObject({ state: 'holds', evidence: { kind: 'measured' } });
    expect(of(paired(false), 'bench')).toMatchObject({ state: 'fails' });
  });

  it('needs both ends up and both directions proven', () => {
    expect(of({ mounted: { near: evidence(), far: null } }, 'mount')?.because).toContain('near');
    expect(of({ mounted: { near: evidence(), far: evidence() } }, 'mount')?.state).toBe('holds');
    expect(of({ tests: { nearToFar: proof(95), farToNear: null } }, 'prove')).toMatchObject({ state: 'open' });
    expect(of({ tests: { nearToFar: proof(95), farToNear: proof(90) } }, 'prove')).toMatchObject({ state: 'holds' });
    expect(of({ tests: { nearToFar: proof(95), farToNear: proof(60) } }, 'prove')?.state).toBe('thin');
    expect(of({ tests: { nearToFar: proof(95), farToNear: proof(95, {}, true) } }, 'prove')?.state).toBe('open');
  });

  it('takes 3 dB as clear and a side lobe as failed (common practice, no source)', () => {
    const aimed = (diagnosis: 'clear' | 'obstructed' | 'sideLobe', shortDb: number) =>
      of({ alignment: { diagnosis, shortDb, evidence: evidence() } }, 'aim')?.state;
    expect(aimed('clear', 2)).toBe('holds');
    expect(aimed('obstructed', 6)).toBe('thin');
    expect(aimed('sideLobe', 17)).toBe('fails');
  });

  it('takes nothing that stand-in radios did as proof on a real job, and all of it in practice', () => {
    const all: Partial<LinkFacts> = {
      ...paired(true, { kind: 'standin' }),
      alignment: { diagnosis: 'clear', shortDb: 0, evidence: evidence({ kind: 'standin' }) },
      tests: { nearToFar: proof(95, { kind: 'standin' }), farToNear: proof(95, { kind: 'standin' }) },
    };
    for (const step of ['bench', 'aim', 'prove']) {
      expect(of(all, step), step).toMatchObject({
        state: 'open',
        because: expect.stringContaining('stand-in') as string,
      });
      expect(of({ ...all, practice: true }, step)?.state, step).toBe('holds');
    }
  });

  it('opens again what was proven when what it rested on has changed, and says what', () => {
    const now = { basis: { air: airOf({ centreMHz: 5500, widthMHz: 40 }) } };
    const all: Partial<LinkFacts> = {
      ...paired(true),
      ...now,
      alignment: { diagnosis: 'clear', shortDb: 0, evidence: evidence() },
      tests: { nearToFar: proof(95), farToNear: proof(95) },
    };
    for (const step of ['bench', 'aim', 'prove'])
      expect(of(all, step)).toMatchObject({
        state: 'open',
        because: 'changed since: channel 5800 to 5500 MHz, and 1 more',
      });
  });

  it('holds a test against what is needed now, not against what was needed then', () => {
    const tests = { nearToFar: proof(95), farToNear: proof(95) };
    expect(of({ tests, need: { nearToFar: 96, farToNear: 10 } }, 'prove')).toMatchObject({ state: 'fails' });
  });

  it('says so where nobody noted what a record rests on', () => {
    expect(of(paired(true, { basis: null }), 'bench')).toMatchObject({ state: 'open' });
    expect(of(paired(true, { basis: null }), 'bench')?.because).toContain('before Kivram kept');
  });

  it('says how a state is known', () => {
    expect(evidenceText({ evidence: evidence({ kind: 'told' }) })).toBe('noted by hand, 2026-05-04');
    expect(evidenceText({ evidence: null })).toBe('');
  });
});

describe('judging the radio plan', () => {
  const radio = (need: number, shared: LinkFacts['shared'] = null) =>
    judgeSteps({
      ...facts,
      prediction: predictLink(planOf()),
      need: { nearToFar: need, farToNear: 1 },
      shared,
    })[1];

  it('asks for the need with both directions loaded where nothing else is known', () => {
    const { bothMbps } = predictLink(planOf()).nearToFar;
    expect(radio(bothMbps - 1)?.state).toBe('holds');
    expect(radio(bothMbps + 1)).toMatchObject({ state: 'fails', because: 'carries less than the need' });
  });

  it('asks for it beside what the others on its air need', () => {
    expect(radio(20, { mbps: { nearToFar: 19, farToNear: 30 }, others: true })?.because).toContain(
      'others on this channel',
    );
    expect(radio(20, { mbps: { nearToFar: 21, farToNear: 30 }, others: true })?.state).toBe('holds');
  });
});
