import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { projectRoot } from '../lib/packages.mjs';

/** The figures that were last accepted, in the repository. */
const acceptedFile = join(projectRoot, 'scripts/bench/accepted.json');

/** What is worse by more than this is named. */
const mostWorse = 1.25;

/** @typedef {{ name: string, value: number, isRate: boolean }} Figure A figure of a bench. Times are multiples of the fixed loop, counts and bytes are what they are; of a rate more is better. */

const perLoop = { us: 0.001, ms: 1, s: 1000 };

/**
 * Takes the figures out of what a bench has printed: a heading at the margin, labels under it, and a figure with its unit at the end of a line. A label that stands further in belongs
 * to the one above it.
 * @param {string} bench @param {string} printed @param {number} loopMs how long the fixed loop takes now
 * @returns {Figure[]}
 */
export function figuresOf(bench, printed, loopMs) {
  /** @type {Figure[]} */
  const figures = [];
  let above = '';
  for (const line of printed.split('\n')) {
    const [, indent = '', label = '', number = '', unit = ''] =
      /^( {2,4})(\S.*?) {2,}([\d.]+) ?(us|ms|s|MB|KiB|a second|)\s*$/.exec(line) ?? [];
    if (!label) continue;
    if (indent.length === 2) above = label;
    const name = [bench, ...(indent.length > 2 ? [above] : []), label].join(': ');
    const isTime = unit in perLoop;
    const isRate = unit === 'a second';
    const value = Number(number);
    if (!Number.isFinite(value)) continue;
    const scaled = isTime
      ? (value * perLoop[/** @type {keyof typeof perLoop} */ (unit)]) / loopMs
      : isRate
        ? (value * loopMs) / 1000
        : value;
    figures.push({ name, value: Number(scaled.toPrecision(3)), isRate });
  }
  return figures;
}

/** @param {Figure[]} figures @returns {string[]} what is worse than it was accepted, in words */
export function worseThanAccepted(figures) {
  const accepted = existsSync(acceptedFile) ? JSON.parse(readFileSync(acceptedFile, 'utf8')) : {};
  return figures.flatMap(({ name, value, isRate }) => {
    const before = accepted[name];
    if (before === undefined) return [`${name}: ${value}, and nothing was accepted yet`];
    const times = isRate ? before / value : value / before;
    return times > mostWorse ? [`${name}: ${value} instead of ${before}, ${times.toFixed(1)} times as bad`] : [];
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
