import { describe, expect, it } from 'vitest';
import { rateText, widthText } from './channelText';

describe('channels and rates in words', () => {
  it('name narrowband in kilohertz and kilobits', () => {
    expect(widthText(0.00625)).toBe('6.25 kHz');
    expect(widthText(0.3)).toBe('300 kHz');
    expect(widthText(80)).toBe('80 MHz');
    expect(rateText(0.142)).toEqual({ value: 142, unit: 'kbit/s', digits: 1 });
    expect(rateText(634)).toEqual({ value: 634, unit: 'Mbit/s', digits: 0 });
    expect(rateText(0).unit).toBe('Mbit/s');
  });
});
