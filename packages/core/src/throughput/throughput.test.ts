import { describe, expect, it } from 'vitest';
import { ethernetTcpMbps } from './ethernet';
import { expectTcp } from './expectation';
import { parseRate, toMbps, unitConfusion } from './unit';

const vht = (rate: number, ethernetMbps = 1000) =>
  expectTcp({ phy: 'VHT', protocol: '802.11', phyRateMbps: rate, reversePhyRateMbps: rate, ethernetMbps });

describe('TCP throughput', () => {
  it('passes 94.1 Mbit/s through 100BASE-TX and 941 through a gigabit port (frame arithmetic, with timestamps)', () => {
    expect(ethernetTcpMbps(100)).toBeCloseTo(94.1, 1);
    expect(ethernetTcpMbps(1000)).toBeCloseTo(941.5, 0);
  });

  it('roughly doubles with the width: 320 to 655 Mbit/s from 40 to 80 MHz was seen (common practice, no source)', () => {
    const narrow = vht(400).aloneMbps;
    const wide = vht(866.7).aloneMbps;
    expect(narrow).toBeGreaterThan(290);
    expect(narrow).toBeLessThan(350);
    expect(wide).toBeGreaterThan(600);
    expect(wide).toBeLessThan(720);
  });

  it('is capped by a 100 Mbit/s port, and says so', () => {
    const capped = vht(300, 100);
    expect(capped.aloneMbps).toBeCloseTo(94.1, 1);
    expect(capped.limitedBy).toBe('ethernet');
  });

  it('shares the channel between the directions, never gains on a step, and gives nothing without a link', () => {
    const { lines, aloneMbps, bothMbps } = vht(200);
    expect(bothMbps).toBeCloseTo(aloneMbps / 2, 6);
    lines.slice(1).forEach((line, i) => expect(line.mbps).toBeLessThanOrEqual(lines[i]?.mbps ?? 0));
    expect(vht(0).limitedBy).toBe('nolink');
  });
});

describe('units of speed tests', () => {
  it('converts', () => {
    expect(toMbps(12.5, 'MByte/s')).toBe(100);
    expect(toMbps(2, 'Gbit/s')).toBe(2000);
    expect(toMbps(500, 'kbit/s')).toBe(0.5);
  });

  it.each([
    ['1 MB/s', 8],
    ['0.5 MByte/s', 4],
    ['800 kbit/s', 0.8],
    ['2,5 Gbps', 2500],
    ['20Mbps', 20],
    ['1 200 Mbit/s', 1200],
  ])('reads %s with its unit', (text, mbps) => {
    expect(parseRate(text)?.mbps).toBeCloseTo(mbps, 9);
  });

  it.each(['20', '20 mbps', '1 MBit', 'fast', '12 m', '1,234 Mbit/s', ''])('does not guess at "%s"', (text) => {
    expect(parseRate(text)).toBeNull();
  });

  it('asks when bits and bytes look confused, in either direction, and not otherwise', () => {
    expect(unitConfusion(80, 'Mbit/s', 650)).toContain('MByte/s?');
    expect(unitConfusion(600, 'MByte/s', 650)).toContain('Mbit/s?');
    expect(unitConfusion(600, 'Mbit/s', 650)).toBeUndefined();
    expect(unitConfusion(75, 'MByte/s', 650)).toBeUndefined();
    expect(unitConfusion(200, 'Mbit/s', 650)).toBeUndefined();
  });
});
