import { existsSync, readFileSync, rmSync } from 'node:fs';
import { basename, join, relative } from 'node:path';
import { projectRoot, stateFolder } from './packages.mjs';

/** Where the runners of tests write what they found. */
export const reports = {
  unit: join(stateFolder, 'vitest.json'),
  server: join(stateFolder, 'vitest-server.json'),
  browser: join(stateFolder, 'playwright.json'),
};

/** @typedef {{ passed: number, failed: number, files: { file: string, seconds: number }[] }} Outcome How many tests passed and failed, and how long each file took. */

/** What an earlier run has left says nothing of this one. */
export function forgetReports() {
  for (const file of Object.values(reports)) rmSync(file, { force: true });
}

/** @returns {Outcome} of all runs together; nothing where none has run */
export function readReports() {
  const all = [ofVitest(reports.unit), ofVitest(reports.server), ofPlaywright()];
  return {
    passed: all.reduce((sum, { passed }) => sum + passed, 0),
    failed: all.reduce((sum, { failed }) => sum + failed, 0),
    files: all.flatMap(({ files }) => files).sort((a, b) => b.seconds - a.seconds),
  };
}

/** @param {string} report @returns {Outcome} */
function ofVitest(report) {
  if (!existsSync(report)) return { passed: 0, failed: 0, files: [] };
  const { numPassedTests, numFailedTests, testResults } = JSON.parse(readFileSync(report, 'utf8'));
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
