import { existsSync, readFileSync, rmSync } from 'node:fs';
import { basename, join, relative } from 'node:path';
import { projectRoot, stateFolder } from './packages.mjs';

/** Where the runners of tests write what they found. */
export const reports = { unit: join(stateFolder, 'vitest.json'), browser: join(stateFolder, 'playwright.json') };

/** @typedef {{ passed: number, failed: number, files: { file: string, seconds: number }[] }} Outcome How many tests passed and failed, and how long each file took. */

/** What an earlier run has left says nothing of this one. */
export function forgetReports() {
  for (const file of Object.values(reports)) rmSync(file, { force: true });
}

/** @returns {Outcome} of both runners together; nothing where neither has run */
export function readReports() {
  const [unit, browser] = [ofVitest(), ofPlaywright()];
  return {
    passed: unit.passed + browser.passed,
    failed: unit.failed + browser.failed,
    files: [...unit.files, ...browser.files].sort((a, b) => b.seconds - a.seconds),
  };
}

/** @returns {Outcome} */
function ofVitest() {
  if (!existsSync(reports.unit)) return { passed: 0, failed: 0, files: [] };
  const { numPassedTests, numFailedTests, testResults } = JSON.parse(readFileSync(reports.unit, 'utf8'));
  const files = testResults.map((/** @type {{ name: string, startTime: number, endTime: number }} */ result) => ({
    file: relative(projectRoot, result.name),
    seconds: (result.endTime - result.startTime) / 1000,
  }));
  return { passed: numPassedTests, failed: numFailedTests, files };
}

/** @typedef {{ file: string, suites?: Suite[], specs?: { tests: { results: { duration: number }[] }[] }[] }} Suite */

/** @returns {Outcome} */
function ofPlaywright() {
  if (!existsSync(reports.browser)) return { passed: 0, failed: 0, files: [] };
  /** @type {{ stats: { expected: number, flaky: number, unexpected: number }, suites: Suite[] }} */
  const { stats, suites } = JSON.parse(readFileSync(reports.browser, 'utf8'));
  const files = suites.map((suite) => ({ file: `e2e/${basename(suite.file)}`, seconds: msOf(suite) / 1000 }));
  return { passed: stats.expected + stats.flaky, failed: stats.unexpected, files };
}

/** How long the tests of a file or group took together, ms. @param {Suite} suite @returns {number} */
function msOf({ specs = [], suites = [] }) {
  const own = specs.flatMap(({ tests }) => tests.flatMap(({ results }) => results.map(({ duration }) => duration)));
  return [...own, ...suites.map(msOf)].reduce((sum, ms) => sum + ms, 0);
}
