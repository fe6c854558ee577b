import { describe, expect, it } from 'vitest';
import { channelCentresMHz, channelFits, channelNumber } from './channel';
import {
  allowanceOf,
  eirpLimitDbm,
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
    expect(limitOf(xt, 5690, 80)).toBe(30);
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

  it('keep licensed spectrum apart: a licence for it does not open it to others, nor the other way round', () => {
    expect(limitOf(xt, 457.5, 0.025)).toBeUndefined();
    expect(limitOf(xt, 457.5, 0.025, { licensed: true })).toBe(44);
    expect(limitOf(xt, 5775, 80, { licensed: true })).toBeUndefined();
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

  it('a rule that was noted for one job stands in for all others, also where it allows less', () => {
    const local = lawWith({ mostEirpDbm: 30 }, { alone: true, mostEirpDbm: 36 }, { layer: 'local', mostEirpDbm: 17 });
    expect(limitOf(local, 5180, 20)).toBe(17);
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
