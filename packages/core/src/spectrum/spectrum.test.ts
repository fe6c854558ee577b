import { describe, expect, it } from 'vitest';
import { channelCentresMHz, channelFits, channelNumber, eirpLimitDbm, lawOf, needsRadarWatch, rulesFor } from '.';
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

describe('rules', () => {
  it('hold the lower of two limits where a channel lies over both', () => {
    const channel = { centreMHz: 5250, widthMHz: 160 };
    expect(rulesFor(xt, channel)).toHaveLength(2);
    expect(eirpLimitDbm(xt, channel)).toBe(23);
    expect(needsRadarWatch(xt, channel)).toBe(true);
    expect(eirpLimitDbm(xt, { centreMHz: 5690, widthMHz: 80 })).toBe(30);
  });

  it('forbid what is covered in part only, and everything in an unknown country', () => {
    expect(eirpLimitDbm(xt, { centreMHz: 5360, widthMHz: 40 })).toBeUndefined();
    expect(eirpLimitDbm(xt, { centreMHz: 5845, widthMHz: 20 })).toBeUndefined();
    expect(eirpLimitDbm(lawOf(testLaw, 'QQ'), { centreMHz: 5500, widthMHz: 20 })).toBeUndefined();
  });

  it('keep licensed spectrum apart: a licence for it does not open it to others, nor the other way round', () => {
    expect(eirpLimitDbm(xt, { centreMHz: 457.5, widthMHz: 0.025 })).toBeUndefined();
    expect(eirpLimitDbm(xt, { centreMHz: 457.5, widthMHz: 0.025 }, true)).toBe(44);
    expect(eirpLimitDbm(xt, { centreMHz: 5775, widthMHz: 80 }, true)).toBeUndefined();
  });
});
