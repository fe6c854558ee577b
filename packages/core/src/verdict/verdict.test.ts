import { describe, expect, it } from 'vitest';
import { nextWork } from './next';
import { evidenceText, judgeSteps, worstState, type LinkFacts, type ProofTest } from './steps';
import { judgeThroughput, type ThroughputCase } from './throughputVerdict';
import { predictLink } from '../budget/prediction';
import type { Basis } from '../evidence/basis';
import type { Evidence } from '../evidence/evidence';
import { airOf, planOf } from '../../test/plans';
import { expectTcp } from '../throughput/expectation';
import type { RunConditions } from '../throughput/run';

const at = (rate: number, ethernetMbps = 1000) =>
  expectTcp({ phy: 'VHT', protocol: '802.11', phyRateMbps: rate, reversePhyRateMbps: rate, ethernetMbps });

const base: ThroughputCase = {
  measuredMbps: 0,
  aborted: false,
  bothLoaded: false,
  otherMbps: null,
  lossShare: null,
  conditions: null,
  ceiling: { portMbps: 1000, airMbps: 866.7, inTurns: true },
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

const run = (changes: Partial<RunConditions>): RunConditions => ({
  seconds: 10,
  omittedSeconds: 0,
  streams: 1,
  targetMbps: null,
  segmentBytes: 1448,
  busyShare: 0.2,
  oneMachine: false,
  ...changes,
});

describe('a result that cannot be', () => {
  // Each says what was measured instead, and proves nothing. The link: 866.7 Mbit/s on air, gigabit ports.
  it.each([
    ['a loopback run faster than the port', { measuredMbps: 16_417 }, 'more than a 1000 Mbit/s port lets through'],
    [
      'what a port of 100 Mbit/s passes with all its headers',
      { measuredMbps: 100, ceiling: { portMbps: 100, airMbps: 300, inTurns: true } },
      'more than a 100 Mbit/s port lets through',
    ],
    ['a little over the port', { measuredMbps: 1001 }, 'more than a 1000 Mbit/s port lets through'],
    ['UDP at twice the port', { measuredMbps: 2000, lossShare: 0 }, '1000 Mbit/s port'],
    [
      'what was told to be sent, faster than the port',
      { measuredMbps: 1500, conditions: run({ targetMbps: 1500 }) },
      '1000 Mbit/s port',
    ],
    ['Gbit/s noted from a screen that showed Mbit/s', { measuredMbps: 634_000 }, '1000 Mbit/s port'],
    [
      '4 Gbit/s on air behind gigabit ports',
      { measuredMbps: 1200, ceiling: { portMbps: 1000, airMbps: 4620, inTurns: true } },
      '1000 Mbit/s port',
    ],
    [
      'a licensed pair, each way by itself',
      {
        measuredMbps: 0.2,
        otherMbps: 0.05,
        bothLoaded: true,
        ceiling: { portMbps: 100, airMbps: 0.1, inTurns: false },
      },
      'fastest step, 0.1 Mbit/s',
    ],
    ['600 MByte/s noted from a screen that showed Mbit/s', { measuredMbps: 4800 }, '1000 Mbit/s port'],
    ['a cable beside the link', { measuredMbps: 940 }, 'at their fastest step, 867 Mbit/s'],
    ['just over the fastest step', { measuredMbps: 868 }, 'at their fastest step'],
    [
      'both directions at the full rate',
      { measuredMbps: 620, otherMbps: 620, bothLoaded: true },
      'at their fastest step',
    ],
    [
      'more than a 100 Mbit/s port',
      { measuredMbps: 130, ceiling: { portMbps: 100, airMbps: 300, inTurns: true } },
      '100 Mbit/s port',
    ],
    [
      'more than a narrow licensed channel',
      { measuredMbps: 5, ceiling: { portMbps: 100, airMbps: 0.1, inTurns: false } },
      'fastest step, 0.1 Mbit/s',
    ],
    [
      'client and server on one machine',
      { measuredMbps: 620, conditions: run({ oneMachine: true }) },
      'on one machine',
    ],
    [
      'one machine, slowed to look right',
      { measuredMbps: 600, conditions: run({ oneMachine: true, targetMbps: 600 }) },
      'on one machine',
    ],
    ['a run of 0.3 ms', { measuredMbps: 620, conditions: run({ seconds: 0.0003 }) }, 'lasted only 0.3 ms'],
    ['a run of a second', { measuredMbps: 620, conditions: run({ seconds: 1 }) }, 'lasted only 1.0 s'],
    ['a run of no time', { measuredMbps: 0, conditions: run({ seconds: 0 }) }, 'lasted only 0 ms'],
    ['a broken-off run', { measuredMbps: 620, aborted: true }, 'broken off'],
    ['a broken-off run at an impossible rate', { measuredMbps: 9999, aborted: true }, 'broken off'],
    [
      'a run told to send less than the need',
      { measuredMbps: 8, conditions: run({ targetMbps: 8 }) },
      'only 8 Mbit/s, less than the need',
    ],
    [
      'UDP at the 1 Mbit/s that iperf3 sends untold',
      { measuredMbps: 1, lossShare: 0, conditions: run({ targetMbps: 1.048576 }) },
      'only 1 Mbit/s, less than the need',
    ],
  ] as const)('%s', (_, changes, words) => {
    const verdict = judge(changes);
    expect(verdict.state).toBe('open');
    expect(verdict.headline).toContain(words);
    expect(verdict.reason).toMatch(/\.$/);
  });

  it.each([
    ['more than computed, less than the air carries', { measuredMbps: 850 }, 'thin', 'more than this link should give'],
    [
      'both ways at once, 290 and 290 where one way gives 300',
      {
        measuredMbps: 290,
        otherMbps: 290,
        bothLoaded: true,
        expectation: { ...at(300), aloneMbps: 300, bothMbps: 150 },
      },
      'thin',
      'more than this link should give',
    ],
    [
      'a link that was not expected',
      { measuredMbps: 120, expectation: at(0), ceiling: null },
      'thin',
      'expects no link',
    ],
    [
      'a link that was not expected and does too little',
      { measuredMbps: 12, expectation: at(0) },
      'fails',
      'expects no link',
    ],
  ] as const)('is not, but is no plain "holds" either: %s', (_, changes, state, words) => {
    expect(judge(changes)).toMatchObject({ state });
    expect(judge(changes).headline).toContain(words);
  });
});

describe("a run's own conditions", () => {
  it.each([
    [
      '-b 120M: enough, and no more was asked',
      { measuredMbps: 119.9, conditions: run({ targetMbps: 120 }) },
      'thin',
      'target',
    ],
    [
      'UDP -b 150M without loss',
      { measuredMbps: 150, lossShare: 0, conditions: run({ targetMbps: 150 }) },
      'thin',
      'target',
    ],
    [
      'a target above what the link gives changes nothing',
      { measuredMbps: 620, conditions: run({ targetMbps: 700 }) },
      'holds',
      'none',
    ],
    [
      'a run that was told about what the link gives, and did',
      { measuredMbps: 560, conditions: run({ targetMbps: 560 }) },
      'holds',
      'target',
    ],
    [
      'packets lost that a target within a tenth would hide',
      { measuredMbps: 205, lossShare: 0.09, conditions: run({ targetMbps: 225 }) },
      'thin',
      'loss',
    ],
    [
      'a dead link that was told little',
      { measuredMbps: 0, lossShare: 1, needMbps: 5, conditions: run({ targetMbps: 8 }) },
      'fails',
      'loss',
    ],
    [
      'packets lost because more was sent than the link carries',
      { measuredMbps: 620, lossShare: 0.35, conditions: run({ targetMbps: 950 }) },
      'holds',
      'none',
    ],
    ['a busy computer', { measuredMbps: 300, conditions: run({ busyShare: 0.97 }) }, 'thin', 'processor'],
    ['small segments', { measuredMbps: 200, conditions: run({ segmentBytes: 536 }) }, 'thin', 'smallPackets'],
    [
      'packets lost at an easy rate',
      { measuredMbps: 180, lossShare: 0.2, conditions: run({ targetMbps: 225 }) },
      'thin',
      'loss',
    ],
  ] as const)('%s', (_, changes, state, bottleneck) => {
    expect(judge(changes)).toMatchObject({ state, bottleneck });
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
  fade: null,
  licence: null,
  shared: null,
  findings: [],
  sheetsExist: false,
  pairing: null,
  mounted: { near: null, far: null },
  alignment: null,
  accessEnd: 'near',
  tests: { nearToFar: null, farToNear: null },
  basis,
};
const proof = (measuredMbps: number, more: Partial<Evidence> = {}, aborted = false): ProofTest => ({
  measured: { measuredMbps, aborted, bothLoaded: false, otherMbps: null, lossShare: null, conditions: null },
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
    expect(nextWork(facts, steps)).toMatchObject({ step: 'path', state: 'fails' });
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
      of({ alignment: { diagnosis, shortDb, end: 'near', evidence: evidence() } }, 'aim')?.state;
    expect(aimed('clear', 2)).toBe('holds');
    expect(aimed('obstructed', 6)).toBe('thin');
    expect(aimed('sideLobe', 17)).toBe('fails');
  });

  it('takes nothing that stand-in radios did as proof on a real job, and all of it in practice', () => {
    const all: Partial<LinkFacts> = {
      ...paired(true, { kind: 'standin' }),
      alignment: { diagnosis: 'clear', shortDb: 0, end: 'near', evidence: evidence({ kind: 'standin' }) },
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
      alignment: { diagnosis: 'clear', shortDb: 0, end: 'near', evidence: evidence() },
      tests: { nearToFar: proof(95), farToNear: proof(95) },
    };
    for (const step of ['bench', 'aim', 'prove'])
      expect(of(all, step)).toMatchObject({
        state: 'open',
        because: 'changed since: channel 5800 to 5500 MHz; width 20 to 40 MHz',
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
    expect(evidenceText({ evidence: evidence({ kind: 'told' }) })).toBe('noted by hand, 4 May 2026');
    expect(evidenceText({ evidence: null })).toBe('');
  });
});

describe('what comes next', () => {
  const sound: Partial<LinkFacts> = { prediction: predictLink(planOf()), predictionError: null };
  const next = (changes: Partial<LinkFacts> = {}) => {
    const now = { ...facts, ...sound, ...changes };
    return nextWork(now, judgeSteps(now));
  };
  const paired: Partial<LinkFacts> = { sheetsExist: true, pairing: { linked: true, evidence: evidence() } };
  const up: Partial<LinkFacts> = { ...paired, mounted: { near: evidence(), far: evidence() } };
  const aimed = (
    diagnosis: 'clear' | 'obstructed' | 'sideLobe' | 'unswept' | 'unsearched',
    shortDb: number,
    end: 'near' | 'far' = 'near',
  ) => ({
    ...up,
    alignment: { diagnosis, shortDb, end, evidence: evidence() },
  });
  const finding = (reason: string): LinkFacts['findings'][number] => ({
    cause: 'x',
    severity: 'blocks',
    field: 'role',
    nearValue: '',
    farValue: '',
    reason,
    repair: '',
  });

  it.each<[string, Partial<LinkFacts>, string, 'near' | 'far' | null, string]>([
    ['nothing configured: the access point first', {}, 'Configure the radios', 'near', 'access point first'],
    ['the access point is at the far end', { accessEnd: 'far' }, 'Configure the radios', 'far', 'access point first'],
    ['configured', { sheetsExist: true }, 'Pair them on the bench', 'near', 'access point first'],
    [
      'settings that will not pair, with the reason',
      { sheetsExist: true, findings: [finding('Both ends are access points: each waits.'), finding('Names differ.')] },
      'Mend the settings',
      null,
      'will not pair: both ends are access points, and 1 more reason',
    ],
    [
      'changed after both went up: far end first',
      { ...up, pairing: { linked: true, evidence: evidence({ basis: { air: airOf({ centreMHz: 5500 }) } }) } },
      'Pair them again',
      'far',
      'the far end first',
    ],
    ['paired', paired, 'Mount it', 'near', 'nothing is up yet'],
    [
      'one end up',
      { ...paired, mounted: { near: evidence(), far: null } },
      'Mount it',
      'far',
      'only the near end is up',
    ],
    ['both up', up, 'Aim', 'near', 'the near end first'],
    ['9 dB short: aimed again before it is proven', aimed('obstructed', 9, 'far'), 'Aim again', 'far', '9.0 dB short'],
    ['on a side lobe', aimed('sideLobe', 17), 'Aim again', 'near', 'a side lobe'],
    ['never swept', aimed('unswept', 9, 'far'), 'Sweep it', 'far', 'never swept'],
    [
      'one lobe, and nothing beside it',
      aimed('unsearched', 15, 'far'),
      'Look beside the lobe',
      'far',
      'nobody looked beside',
    ],
    ['aimed well', aimed('clear', 1), 'Prove the throughput', 'near', 'the client at the near end'],
    [
      'one direction proven',
      { ...aimed('clear', 1), tests: { nearToFar: proof(95), farToNear: null } },
      'Prove the other direction',
      'far',
      'far to near is missing',
    ],
    [
      'too slow',
      { ...aimed('clear', 1), tests: { nearToFar: proof(5), farToNear: proof(95) } },
      'Find what limits it',
      null,
      'less than the need',
    ],
  ])('%s', (_, changes, task, end, why) => {
    const work = next(changes);
    expect(work).toMatchObject({ task, end });
    expect(work?.why).toContain(why);
  });

  it('is nothing where all is proven', () => {
    expect(next({ ...aimed('clear', 1), tests: { nearToFar: proof(95), farToNear: proof(95) } })).toBeUndefined();
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
