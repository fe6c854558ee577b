import { describe, expect, it } from 'vitest';
import { channelCentresMHz, channelFits, channelNumber, channelParts } from './channel';
import { allowanceOf, eirpLimitDbm, isForbidden } from './allowance';
import { lawInJob, type LocalRule } from './jobLaw';
import { lawRefusal } from './refusal';
import {
  isKnown,
  lawOf,
  needsRadarWatch,
  openLink,
  radarListenMin,
  rulesFor,
  type RuleSet,
  type SpectrumRule,
  type SpectrumUse,
} from './ruleSet';
import { testLaw } from '../../test/law';

describe('channels, IEEE 802.11-2020 annex E', () => {
  it.each([
    [2412, 20, 1],
    [2472, 20, 13],
    [5180, 20, 36],
    [5510, 40, 102],
    [5775, 80, 155],
    [5570, 160, 114],
    [58320, 2160, 1],
    [64800, 2160, 4],
  ])('%i MHz, %i MHz wide, is number %i', (centreMHz, widthMHz, number) => {
    expect(channelNumber({ centreMHz, widthMHz })).toBe(number);
    const band = centreMHz < 3000 ? '2.4GHz' : centreMHz > 50000 ? '60GHz' : '5GHz';
    expect(channelCentresMHz(band, widthMHz)).toContain(centreMHz);
  });

  it('has 25 channels of 20 MHz at 5 GHz, 12 of 40, 6 of 80, 2 of 160', () => {
    expect([20, 40, 80, 160].map((w) => channelCentresMHz('5GHz', w).length)).toEqual([25, 12, 6, 2]);
  });

  it('lets each wide channel consist of narrower ones', () => {
    const narrow = new Set(channelCentresMHz('5GHz', 20));
    for (const centre of channelCentresMHz('5GHz', 80)) {
      for (const offset of [-30, -10, 10, 30]) expect(narrow, `${centre} + ${offset}`).toContain(centre + offset);
    }
  });

  it('knows no channels where the licence gives frequencies, nor of widths a band does not have', () => {
    expect(channelCentresMHz('licensed', 0.025)).toEqual([]);
    expect(channelCentresMHz('2.4GHz', 80)).toEqual([]);
    expect(channelFits({ centreMHz: 5775, widthMHz: 80 }, 5725, 5815)).toBe(true);
    expect(channelFits({ centreMHz: 5775, widthMHz: 80 }, 5736, 5815)).toBe(false);
  });
});

const xt = lawOf(testLaw, 'XT');
const limitOf = (
  law: RuleSet | undefined,
  centreMHz: number,
  widthMHz: number,
  use: Partial<SpectrumUse> = {},
  gain = 20,
) => eirpLimitDbm(law, { centreMHz, widthMHz }, { ...openLink, ...use }, gain);

describe('rules', () => {
  it('hold the lower of two limits where a channel lies over both', () => {
    const channel = { centreMHz: 5250, widthMHz: 160 };
    expect(rulesFor(xt, channel)).toHaveLength(2);
    expect(limitOf(xt, 5250, 160)).toBe(23);
    expect(needsRadarWatch(xt, channel)).toBe(true);
  });

  it('let radios listen ten minutes where weather radars are, one elsewhere (ETSI EN 301 893 V2.1.1 table D.1)', () => {
    const rule: SpectrumRule = {
      lowestMHz: 5470,
      highestMHz: 5725,
      mostEirpDbm: 27,
      radar: true,
      weatherRadarMHz: [5600, 5650],
    };
    const law: RuleSet = { country: 'XE', name: 'X', validFrom: '2026-01-01', rules: [rule] };
    const listens = (centreMHz: number, widthMHz = 20) => radarListenMin(law, { centreMHz, widthMHz });
    expect([5500, 5580, 5600, 5640, 5660].map((centreMHz) => listens(centreMHz))).toEqual([1, 1, 10, 10, 1]);
    expect([listens(5590, 40), listens(5530, 80)]).toEqual([10, 1]);
    // Elsewhere the rules know no weather radars.
    expect(radarListenMin(xt, { centreMHz: 5620, widthMHz: 20 })).toBe(1);
    expect(radarListenMin(null, { centreMHz: 5620, widthMHz: 20 })).toBe(1);
  });

  it('forbid what is covered in part only, and everything in an unknown country', () => {
    expect(limitOf(xt, 5360, 40)).toBeUndefined();
    expect(limitOf(xt, 5845, 20)).toBeUndefined();
    expect(limitOf(lawOf(testLaw, 'QQ'), 5500, 20)).toBeUndefined();
  });
});

const lawWith = (...rules: Partial<SpectrumRule>[]): RuleSet => ({
  country: 'XT',
  name: 'Testland',
  validFrom: '2026-01-01',
  rules: rules.map((rule) => ({ lowestMHz: 5150, highestMHz: 5350, mostEirpDbm: 20, radar: false, ...rule })),
});

describe('what a channel is wanted for', () => {
  it('a piece for indoors is none for a roof, and one for joining is none for an access point', () => {
    expect(limitOf(lawWith({ indoor: true }), 5180, 20)).toBeUndefined();
    expect(limitOf(lawWith({ indoor: true }), 5180, 20, { outdoor: false })).toBe(20);
    expect(limitOf(lawWith({ joinOnly: true }), 5180, 20)).toBeUndefined();
  });

  it('a piece that stands alone takes no channel wider than it says, nor one that lies over two', () => {
    const alone = lawWith(
      { highestMHz: 5250, alone: true, mostWidthMHz: 40 },
      { lowestMHz: 5250, alone: true, mostWidthMHz: 80 },
    );
    expect(limitOf(alone, 5190, 40)).toBe(20);
    expect(limitOf(alone, 5210, 80)).toBeUndefined();
    expect(limitOf(alone, 5290, 80)).toBe(20);
    expect(limitOf(alone, 5250, 40)).toBeUndefined();
  });

  it('of two rules that hold for it the one counts that allows more, and a rule for two points is none for a hub', () => {
    const fixed = lawWith({}, { layer: 'fixedLink', pointToPoint: true, mostEirpDbm: 36, radar: true });
    expect(limitOf(fixed, 5180, 20)).toBe(36);
    expect(limitOf(fixed, 5180, 20, { pointToPoint: false })).toBe(20);
    const same = lawWith({ alone: true, radar: true }, { alone: true });
    expect(allowanceOf(same, { centreMHz: 5180, widthMHz: 20 }, openLink, 20)?.radar).toBe(false);
  });

  it('the antenna counts where the rule says so, and a narrow channel where it limits the density', () => {
    const dish = lawWith({
      mostEirpDbm: 82,
      eirpByGain: [
        [0, -20],
        [51, 82],
        [60, 82],
      ],
    });
    expect(limitOf(dish, 5180, 20, {}, 51)).toBe(82);
    expect(limitOf(dish, 5180, 20, {}, 38)).toBeCloseTo(82 - 2 * 13, 9);
    expect(limitOf(dish, 5180, 20, {}, 70)).toBe(82);
    const dense = lawWith({ mostEirpDbm: 36, mostDbmPerMHz: 23 });
    expect(limitOf(dense, 5180, 20)).toBeCloseTo(36, 1);
    expect(limitOf(dense, 5180, 10)).toBeCloseTo(33, 1);
    const sharp = lawWith({ leastGainDbi: 30, mostEirpDbm: 55 });
    expect(limitOf(sharp, 5180, 20, {}, 29)).toBeUndefined();
    expect(limitOf(sharp, 5180, 20, {}, 30)).toBe(55);
  });
});

const day = '2026-06-15';
const noted = (changes: Partial<LocalRule>): LocalRule => ({
  lowestMHz: 5150,
  highestMHz: 5350,
  mostEirpDbm: 17,
  mostWidthMHz: null,
  radar: false,
  reason: 'Order 7 of the harbour office',
  permitUntil: null,
  permitsOutdoors: false,
  ...changes,
});
const inJob = (law: RuleSet | null, ...rules: Partial<LocalRule>[]): RuleSet | undefined =>
  lawInJob(law, 'XT', rules.map(noted), day) ?? undefined;
const why = (law: RuleSet | undefined, centreMHz: number, widthMHz: number, use: Partial<SpectrumUse> = {}): string => {
  const [channel, wanted] = [
    { centreMHz, widthMHz },
    { ...openLink, ...use },
  ];
  return isForbidden(law, channel, wanted, 20) ? lawRefusal(law, channel, wanted, 20) : 'allowed';
};

describe('what is noted for a job', () => {
  it('restricts, and lifts nothing: neither indoors only nor radar', () => {
    const country = lawWith({ indoor: true, radar: true, mostEirpDbm: 23 });
    const law = inJob(country, { mostEirpDbm: 36 });
    expect(limitOf(law, 5180, 20)).toBeUndefined();
    expect(why(law, 5180, 20)).toBe('5150 to 5350 MHz is for indoors only in Testland');
    expect(allowanceOf(law, { centreMHz: 5180, widthMHz: 20 }, { ...openLink, outdoor: false }, 20)).toMatchObject({
      mostEirpDbm: 23,
      radar: true,
    });
  });

  it('restricts a channel that only reaches into it, by its limit, its width and its radar', () => {
    const piece = { lowestMHz: 5190, highestMHz: 5200 };
    expect(limitOf(inJob(lawWith({}), piece), 5180, 20)).toBe(20);
    expect(limitOf(inJob(lawWith({}), piece), 5190, 40)).toBe(17);
    const radar = inJob(lawWith({}), { ...piece, radar: true });
    expect(allowanceOf(radar, { centreMHz: 5190, widthMHz: 40 }, openLink, 20)?.radar).toBe(true);
    const narrow = inJob(lawWith({}), { ...piece, mostWidthMHz: 20 });
    expect(limitOf(narrow, 5200, 20)).toBe(17);
    expect(why(narrow, 5190, 40)).toBe(
      '5190 MHz, 40 MHz wide: at most 20 MHz, noted for this job: Order 7 of the harbour office',
    );
  });

  it('permits what the country does not, as it says and until its last day, and where all of the channel lies in it', () => {
    const country = lawWith({ indoor: true, mostEirpDbm: 23 });
    const permit = { permitUntil: day, permitsOutdoors: true, mostEirpDbm: 30 };
    expect(limitOf(inJob(country, permit), 5180, 20)).toBe(30);
    expect(limitOf(inJob(country, { ...permit, permitsOutdoors: false }), 5180, 20)).toBeUndefined();
    expect(limitOf(inJob(country, { ...permit, permitUntil: '2026-06-14' }), 5180, 20)).toBeUndefined();
    expect(limitOf(inJob(country, { ...permit, highestMHz: 5185 }), 5180, 20)).toBeUndefined();
    expect(limitOf(inJob(country, { ...permit, mostWidthMHz: 20 }), 5190, 40)).toBeUndefined();
  });

  it('permits no radio to leave out the radar that the country has it watch for', () => {
    const country = lawWith({ mostEirpDbm: 30, radar: true });
    const law = inJob(country, { permitUntil: day, permitsOutdoors: true, mostEirpDbm: 36 });
    expect(allowanceOf(law, { centreMHz: 5280, widthMHz: 20 }, openLink, 20)).toMatchObject({
      mostEirpDbm: 36,
      radar: true,
    });
  });

  it('a restriction holds against a permit, and an ended permit takes nothing from a running one', () => {
    const country = lawWith({ indoor: true });
    const permit = { permitUntil: '2027-01-01', permitsOutdoors: true, mostEirpDbm: 30 };
    const ended = { ...permit, permitUntil: '2026-01-01', mostEirpDbm: 36 };
    expect(limitOf(inJob(country, ended, permit), 5180, 20)).toBe(30);
    expect(limitOf(inJob(country, permit, { mostEirpDbm: 12, lowestMHz: 5185 }), 5180, 20)).toBe(12);
  });

  it('leaves a country unknown of which nothing is known', () => {
    const law = inJob(null, { lowestMHz: 5150, highestMHz: 5250, mostWidthMHz: 40 });
    expect(isKnown(law)).toBe(false);
    expect([limitOf(law, 5580, 20), why(law, 5580, 20)]).toEqual([undefined, 'allowed']);
    expect(limitOf(law, 5180, 20)).toBe(17);
    expect(why(law, 5210, 80)).toContain('at most 40 MHz');
    const permit = inJob(null, { permitUntil: day, permitsOutdoors: true, mostEirpDbm: 30 });
    expect([isKnown(permit), limitOf(permit, 5180, 20)]).toEqual([false, 30]);
  });
});

describe('where the law is silent', () => {
  const doubtsOf = (law: RuleSet | undefined, centreMHz: number, use: Partial<SpectrumUse> = {}) =>
    allowanceOf(law, { centreMHz, widthMHz: 20 }, { ...openLink, ...use }, 20)?.doubts;

  it('about outdoors from 5150 to 5350 MHz, nobody reads it as permission (ITU RR 5.446A, Resolution 229; from memory)', () => {
    const law = lawWith({}, { lowestMHz: 5470, highestMHz: 5725 });
    expect(doubtsOf(law, 5180)).toEqual([expect.stringContaining('the database says nothing about outdoors here')]);
    expect(doubtsOf(law, 5180, { outdoor: false })).toEqual([]);
    expect(doubtsOf(law, 5500)).toEqual([]);
    // Whoever says it is believed, though it is less.
    const said = lawWith({}, { layer: 'fixedLink', mostEirpDbm: 10, source: 'a rule' });
    expect([doubtsOf(said, 5180), limitOf(said, 5180, 20)]).toEqual([[], 10]);
  });

  it('what only a rule for fixed links opens is doubtful, with both sources', () => {
    const row = { lowestMHz: 2402, highestMHz: 2472 };
    const law = {
      ...lawWith(row, { lowestMHz: 2400, highestMHz: 2483.5, layer: 'fixedLink', source: '47 CFR 15.247' }),
      source: 'the database',
    };
    expect(doubtsOf(law, 2437)).toEqual([]);
    expect(doubtsOf(law, 2472)?.[0]).toMatch(
      /leave this channel out \(the database\), and only 47 CFR 15.247 opens it/,
    );
    // A piece for indoors says nothing of a roof.
    const indoors = lawWith({ ...row, indoor: true }, { ...row, layer: 'fixedLink', source: '47 CFR 15.247' });
    expect(doubtsOf(indoors, 2437)).toHaveLength(1);
  });
});

describe('an edge between two rules', () => {
  const joined = lawWith({ lowestMHz: 5470, highestMHz: 5725 }, { lowestMHz: 5725, highestMHz: 5850 });

  it('is crossed by no 20 MHz channel, nor by a wide one with such a channel in it (net/wireless/reg.c)', () => {
    expect(channelParts({ centreMHz: 5690, widthMHz: 80 }).map((p) => p.centreMHz)).toEqual([5660, 5680, 5700, 5720]);
    expect(channelParts({ centreMHz: 58320, widthMHz: 2160 })).toHaveLength(1);
    expect(why(joined, 5720, 20)).toContain('lies over an edge of the rules of Testland');
    expect(why(joined, 5690, 80)).toContain('lies over an edge');
    const even = lawWith({ lowestMHz: 5150, highestMHz: 5250 }, { lowestMHz: 5250, highestMHz: 5350 });
    expect(limitOf(even, 5250, 160, { outdoor: false })).toBe(20);
    expect(rulesFor(joined, { centreMHz: 5720, widthMHz: 20 })).toEqual([]);
  });

  it('and what is wider than a rule, in a gap, or for others is said in words', () => {
    const alone = lawWith({ alone: true, mostWidthMHz: 40 });
    expect(why(alone, 5210, 80)).toBe('Testland allows channels of at most 40 MHz here, and this one is 80 MHz wide');
    expect(why(alone, 5500, 20)).toBe('no rule of Testland allows 5500 MHz, 20 MHz wide');
    expect(why(lawWith({ joinOnly: true }), 5180, 20)).toContain('not for an access point');
    expect(why(lawWith({ pointToPoint: true }), 5180, 20, { pointToPoint: false })).toContain('not for a hub');
    expect(why(lawWith({ leastGainDbi: 30 }), 5180, 20)).toContain('antennas of at least 30 dBi');
  });
});
