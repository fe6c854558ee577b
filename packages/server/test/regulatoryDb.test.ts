import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { allowanceOf } from '@kivram/core/spectrum/allowance';
import { channelCentresMHz, type Channel } from '@kivram/core/spectrum/channel';
import { openLink, type RuleSet } from '@kivram/core/spectrum/ruleSet';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LawFileError, readRegulatoryDb } from '../src/formats/law/regulatoryDb';
import { shippedLaw } from '../src/services/shippedLaw';

const path = join(import.meta.dirname, '../data/law/regulatory.db');
const bytes = new Uint8Array(readFileSync(path));

interface PythonRule {
  flags: number;
  mbm: number;
  startKHz: number;
  endKHz: number;
  widthKHz: number;
}

/** Every channel that a radio of these bands could be set to. */
const channels: Channel[] = (['2.4GHz', '5GHz', '60GHz'] as const).flatMap((band) =>
  [20, 40, 80, 160, 2160].flatMap((widthMHz) =>
    channelCentresMHz(band, widthMHz).map((centreMHz) => ({ centreMHz, widthMHz })),
  ),
);

/** The same file through Python, by another hand. */
function byPython(): { rules: Record<string, PythonRule[]>; outdoors: Record<string, [number, number][]> } {
  const run = spawnSync('/usr/bin/python3', [join(import.meta.dirname, 'regulatoryDb.py'), path], {
    encoding: 'utf8',
    input: JSON.stringify(channels.map(({ centreMHz, widthMHz }) => [centreMHz, widthMHz])),
  });
  expect(run.stderr).toBe('');
  return JSON.parse(run.stdout) as ReturnType<typeof byPython>;
}

const python = byPython();

describe('the wireless regulatory database', () => {
  const read = readRegulatoryDb(bytes);

  it('has every country that Python finds in it, each with its rules', () => {
    expect(read.map((c) => c.country)).toEqual(Object.keys(python.rules));
    expect(read.length).toBeGreaterThan(150);
    for (const { country, rules } of read) {
      const theirs = (python.rules[country] ?? []).filter((rule) => !(rule.flags & 1));
      expect(
        rules.map((r) => [
          r.lowestMHz,
          r.highestMHz,
          r.mostEirpDbm,
          r.radar,
          r.indoor ?? false,
          r.joinOnly ?? false,
          r.alone ? r.mostWidthMHz : 'joins',
        ]),
        country,
      ).toEqual(
        theirs.map((r) => [
          r.startKHz / 1000,
          r.endKHz / 1000,
          r.mbm / 100,
          (r.flags & 4) > 0,
          (r.flags & 2) > 0,
          (r.flags & 8) > 0,
          r.flags & 16 ? 'joins' : r.widthKHz / 1000,
        ]),
      );
    }
  });

  // Read off with another tool (Python's struct, by hand) before this reader was written.
  it.each([
    ['DE', 5470, 5725, 26.98, { radar: true, alone: true, mostWidthMHz: 160 }],
    ['JP', 5490, 5730, 23, { radar: true, alone: true, mostWidthMHz: 160 }],
    ['US', 5730, 5850, 30, { radar: false }],
    ['DE', 5150, 5250, 23.01, { radar: false, indoor: true }],
    ['US', 57240, 71000, 40, { radar: false, alone: true, mostWidthMHz: 2160 }],
  ])('%s: %d to %d MHz at %d dBm', (country, lowestMHz, highestMHz, mostEirpDbm, rest) => {
    const rules = read.find((c) => c.country === country)?.rules;
    expect(rules).toContainEqual({ lowestMHz, highestMHz, mostEirpDbm, ...rest });
  });

  it('is refused wherever it is cut off', () => {
    for (let length = 0; length < bytes.length; length += 7)
      expect(() => readRegulatoryDb(bytes.subarray(0, length)), `${length} of ${bytes.length} bytes`).toThrow(
        LawFileError,
      );
  });

  it('is refused or read whatever bytes are damaged, and never anything else', () => {
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), fc.nat(255), (at, value) => {
        const damaged = bytes.slice();
        damaged[at] = value;
        try {
          return readRegulatoryDb(damaged).every(({ rules }) => rules.every((r) => r.highestMHz > r.lowestMHz));
        } catch (error) {
          return error instanceof LawFileError && !/NaN|undefined/.test(error.message);
        }
      }),
      { numRuns: 1000 },
    );
  });

  it('says what another file is', () => {
    expect(() => readRegulatoryDb(new Uint8Array([1, 2, 3]))).toThrow('cut off');
    expect(() => readRegulatoryDb(new TextEncoder().encode('GIF89a.......'))).toThrow('does not begin with RGDB');
    const other = bytes.slice();
    other[7] = 19;
    expect(() => readRegulatoryDb(other)).toThrow('version 19');
  });
});

describe('what is offered outdoors, country by country', () => {
  const shipped = shippedLaw();
  const text = ({ centreMHz, widthMHz }: Channel): string => `${centreMHz}/${widthMHz}`;
  const byKernel = (country: string) => new Set((python.outdoors[country] ?? []).map(([c, w]) => `${c}/${w}`));
  const offered = (law: RuleSet) =>
    channels.flatMap((channel) => {
      const allowance = allowanceOf(law, channel, openLink, 40);
      return allowance ? [{ channel: text(channel), ...allowance }] : [];
    });

  it('by the database alone is no more than a radio takes that keeps to it', () => {
    let left = 0;
    for (const law of shipped) {
      const theirs = byKernel(law.country);
      const ours = offered({ ...law, rules: law.rules.filter((rule) => !rule.layer) }).map((o) => o.channel);
      expect(
        ours.filter((channel) => !theirs.has(channel)),
        law.country,
      ).toEqual([]);
      left += theirs.size - ours.length;
    }
    // Nor much less: what lies over two pieces that do not join is left out.
    expect(left).toBeLessThan(0.01 * shipped.length * channels.length);
  });

  it('with the rules for fixed links is more only in words that name both sources and the memory', () => {
    let more = 0;
    for (const law of shipped) {
      const theirs = byKernel(law.country);
      for (const { channel, rules, doubts } of offered(law)) {
        if (theirs.has(channel)) continue;
        more++;
        expect(rules, `${law.country} ${channel}`).toMatchObject([{ layer: 'fixedLink', verify: true }]);
        expect(doubts.join(), `${law.country} ${channel}`).toContain(
          `(${law.source ?? ''}), and only ${rules[0]?.source ?? ''}`,
        );
      }
    }
    expect(more).toBeGreaterThan(20);
  });

  it('says so where the database is silent about roofs: 5180 and 5280 MHz in Japan, 5180 in South Africa', () => {
    const doubts = (country: string, centreMHz: number, eirpDbm = 20) =>
      allowanceOf(lawOf(country), { centreMHz, widthMHz: 20 }, openLink, 25, eirpDbm)?.doubts.join();
    for (const [country, centreMHz] of [
      ['JP', 5180],
      ['JP', 5280],
      ['ZA', 5180],
    ] as const)
      expect(doubts(country, centreMHz), country).toContain('says nothing about outdoors');
    expect(doubts('US', 5180)).toBe('');
    expect(doubts('US', 2467)).toContain('leave this channel out');
    // Little power needs none of the rules that are doubtful there.
    expect(doubts('NO', 5805, 13)).toBe('');
    expect(doubts('NO', 5805)).toMatch(/road tolls .* EN 302 502/);
    expect(doubts('NO', 5765)).toBe('');
    expect(doubts('BR', 5720)).toBeUndefined();
  });
});

/** The law of a country as it is shipped, with the rules for fixed links on top. */
const lawOf = (country: string): RuleSet | undefined => shippedLaw().find((set) => set.country === country);
const limit = (country: string, centreMHz: number, widthMHz: number, gainDbi: number, use = openLink) =>
  allowanceOf(lawOf(country), { centreMHz, widthMHz }, use, gainDbi)?.mostEirpDbm;
const hub = { ...openLink, pointToPoint: false };

describe('rules for fixed links, on top of it', () => {
  it('47 CFR 15.247(c)(1)(i): at 2.4 GHz 1 W conducted, less a decibel for every three that a dish has over 6 dBi', () => {
    expect(limit('US', 2437, 20, 6)).toBeCloseTo(36, 6);
    expect(limit('US', 2437, 20, 24)).toBeCloseTo(30 + 24 - 6, 6);
    expect(limit('US', 2437, 20, 24, hub)).toBeCloseTo(36, 6);
  });

  it('47 CFR 15.407(a): 1 W with any dish between two points at 5.8 GHz, 36 dBm for a hub; 23 dBi free at 5.2 GHz', () => {
    expect(limit('US', 5785, 20, 30)).toBeCloseTo(60, 6);
    expect(limit('US', 5785, 20, 30, hub)).toBeCloseTo(36, 6);
    expect(limit('US', 5200, 20, 23)).toBeCloseTo(53, 6);
    expect(limit('US', 5200, 20, 30)).toBeCloseTo(53, 6);
    expect(limit('US', 5580, 20, 23)).toBeCloseTo(30, 6);
  });

  it('47 CFR 15.255(c)(1)(ii): 82 dBm at 60 GHz, less two decibels for each that the antenna has under 51 dBi', () => {
    expect(limit('US', 60480, 2160, 51)).toBeCloseTo(82, 6);
    expect(limit('US', 60480, 2160, 38)).toBeCloseTo(56, 6);
    expect(limit('US', 60480, 2160, 20)).toBeCloseTo(40, 6);
  });

  it('EN 302 567 and EN 303 722: 40 dBm at 60 GHz out of doors, 55 with an antenna of 30 dBi and no more than 27 dBm conducted', () => {
    expect(limit('DE', 60480, 2160, 25)).toBeCloseTo(40, 6);
    expect(limit('DE', 60480, 2160, 38)).toBeCloseTo(55, 6);
    // 57 to 66 GHz only by the database, to 71 by the decision of 2019
    expect(limit('DE', 66960, 2160, 38)).toBeCloseTo(55, 6);
  });

  it('EN 302 502: 36 dBm in 20 MHz at 5.8 GHz where a country has it, 33 in 10; EN 301 893: nothing out of doors below 5350 MHz', () => {
    expect(limit('GB', 5745, 20, 20)).toBeCloseTo(36, 1);
    expect(limit('GB', 5805, 20, 20) ?? 0).toBeLessThan(24);
    expect(limit('DE', 5180, 20, 20)).toBeUndefined();
    expect(limit('DE', 5180, 20, 20, { ...openLink, outdoor: false })).toBeCloseTo(23.01, 6);
    expect(limit('DE', 5580, 20, 20)).toBeCloseTo(27, 1);
  });

  it('each says where it stands and that it is from memory', () => {
    for (const { country, rules } of shippedLaw())
      for (const rule of rules)
        if (rule.layer) {
          expect(rule.source, country).toMatch(/CFR|EN 30/);
          expect(rule.verify, country).toBe(true);
        }
  });
});
