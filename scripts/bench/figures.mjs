import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { projectRoot } from '../lib/packages.mjs';

/** The figures that were last accepted, in the repository. */
const acceptedFile = join(projectRoot, 'scripts/bench/accepted.json');

/** What is worse by more than this is named. */
const mostWorse = 1.25;

/**
 * @typedef {{ name: string, value: number, isRate: boolean }} Figure A figure of a bench: a time as a multiple of the fixed loop; a rate as what is done in one loop, of which more is
 * better; counts, bytes and what simulated people reach as they are.
 */

const perLoop = { us: 0.001, ms: 1, s: 1000 };

/** One odd moment decides on these, and the figures of others are no figures of ours. */
const notCompared = /slowest|longest|95th|^gdal_|against gdal/;

/**
 * Takes the figures out of what a bench has printed: a heading at the margin, labels under it, then two spaces or more and a figure with its unit; what follows is for the reader. A label
 * that stands further in belongs to the one above it. Of a table of times the first column counts, which is the median.
 * @param {string} bench @param {string} printed @param {number} loopMs how long the fixed loop takes now
 * @returns {Figure[]}
 */
export function figuresOf(bench, printed, loopMs) {
  if (bench === 'aiming') return aimedFigures(printed);
  /** @type {Figure[]} */
  const figures = [];
  let [heading, above] = ['', ''];
  for (const line of printed.split('\n')) {
    if (/^[A-Z0-9]/.test(line)) heading = line.split(/[:,]| {2}/)[0] ?? '';
    above = /^ {2}(\S.*?)(?: {2,}|$)/.exec(line)?.[1] ?? above;
    const [, indent = '', label = '', number = '', unit = ''] =
      /^( {2,4})(\S.*?) {2,}(?:\d+ {2,})?([\d.]+)(?: ?(us|ms|MB|KiB|a second|per second)\b|(?=\s*$))/.exec(line) ?? [];
    const value = Number(number);
    if (!label || !Number.isFinite(value) || notCompared.test(label)) continue;
    const name = [bench, heading, ...(indent.length > 2 ? [above] : []), label].join(': ');
    const isRate = unit.endsWith('second');
    const scaled = unit in perLoop ? (value * perLoop[/** @type {keyof typeof perLoop} */ (unit)]) / loopMs : value;
    figures.push({
      name,
      value: Number((unit === 'a second' ? (value * loopMs) / 1000 : scaled).toPrecision(3)),
      isRate,
    });
  }
  return figures;
}

/** What an alignment may lose more or take longer without being worse, dB: it is next to nothing. */
const slightDb = 0.5;

/** What simulated people reach, who are the same people every time. @param {string} printed @returns {Figure[]} */
function aimedFigures(printed) {
  let what = '';
  return printed.split('\n').flatMap((line) => {
    const [, named = '', source = '', lossDb = '', seconds = ''] =
      /^(.{51})(phone|scale|none) +[\d.]+ +([\d.]+) .* (\d+)(?: !)?\s*$/.exec(line) ?? [];
    if (!source) return [];
    what = named.trim() || what;
    return [
      {
        name: `aiming: ${what}, ${source}: loss, 95th, and ${slightDb}, dB`,
        value: Number((Number(lossDb) + slightDb).toFixed(2)),
        isRate: false,
      },
      { name: `aiming: ${what}, ${source}: seconds`, value: Number(seconds), isRate: false },
    ];
  });
}

/** What was accepted last, by name. @returns {Record<string, number>} */
export const accepted = () => (existsSync(acceptedFile) ? JSON.parse(readFileSync(acceptedFile, 'utf8')) : {});

/** @param {Record<string, number>} before what was accepted @param {Figure[]} figures @returns {string[]} what is worse than that, in words */
export function worseThan(before, figures) {
  return figures.flatMap(({ name, value, isRate }) => {
    const was = before[name];
    if (was === undefined) return [`${name}: ${value}, and nothing was accepted yet`];
    // Nothing at all, a count of nothing, is no worse than nothing.
    const times = (isRate ? was || 1 : value || 1) / (isRate ? value || 1 : was || 1);
    return times > mostWorse ? [`${name}: ${value} instead of ${was}, ${times.toFixed(1)} times as bad`] : [];
  });
}

/** @param {Figure[]} figures */
export function accept(figures) {
  writeFileSync(
    acceptedFile,
    `${JSON.stringify(Object.fromEntries(figures.map(({ name, value }) => [name, value])), null, 2)}\n`,
  );
}

/** How fast this machine is now: a loop over numbers, text and a sort that nothing of Kivram changes, ms; the best of five. */
export function loopMs() {
  const once = () => {
    const start = performance.now();
    const values = Float64Array.from({ length: 200_000 }, (_, i) => Math.sin(i) * Math.sqrt(i));
    values.sort();
    let text = '';
    for (let i = 0; i < values.length; i += 4) text += values[i]?.toFixed(3);
    const parts = text.split('.').map(Number);
    return parts.length > 0 ? performance.now() - start : 0;
  };
  return Math.min(...Array.from({ length: 5 }, once));
}
