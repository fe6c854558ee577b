import { describe, expect, it } from 'vitest';
import { rateText, widthsText, widthText } from './channelText';

describe('channels and rates in words', () => {
  it('name narrowband in kilohertz and kilobits', () => {
    expect(widthText(0.00625)).toBe('6.25 kHz');
    expect(widthText(0.3)).toBe('300 kHz');
    expect(widthText(80)).toBe('80 MHz');
    expect(rateText(0.142)).toEqual({ value: 142, unit: 'kbit/s', digits: 1 });
    expect(rateText(634)).toEqual({ value: 634, unit: 'Mbit/s', digits: 0 });
    expect(rateText(0).unit).toBe('Mbit/s');
  });

  it('name rates that stand in one row in one unit, that of the largest', () => {
    expect(rateText(0.142, 2)).toEqual({ value: 0.142, unit: 'Mbit/s', digits: 3 });
    expect(rateText(2, 0.142)).toEqual({ value: 2, unit: 'Mbit/s', digits: 0 });
    expect(rateText(0, 0.03)).toEqual({ value: 0, unit: 'kbit/s', digits: 1 });
  });

  it('name several widths once with their unit, and many by the first and the last', () => {
    expect(widthsText([80, 20, 40])).toBe('20, 40, 80 MHz');
    expect(widthsText([0.025, 0.0125])).toBe('12.5, 25 kHz');
    expect(widthsText([0.3, 0.00625, 0.1, 0.2, 0.15])).toBe('6.25 kHz to 300 kHz');
    expect(widthsText([0.3, 20])).toBe('300 kHz, 20 MHz');
    expect(widthsText([2160])).toBe('2160 MHz');
  });
});
