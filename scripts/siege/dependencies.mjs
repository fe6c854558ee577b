import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { faultsOf, lockedPackages, namedPackages } from '../lib/dependencies.mjs';
import { projectRoot } from '../lib/packages.mjs';

const dayMs = 86_400_000;

/** A version that nobody has had in hands for so long may have been put in by whoever took the package over; one without a successor for so long is nobody's any more. */
const youngDays = 7;
const oldDays = 6 * 365;

/** What is known of the packages that come from elsewhere; what the registry does not answer is said. */
export async function dependencies() {
  const packages = lockedPackages();
  const { allowScripts } = JSON.parse(readFileSync(join(projectRoot, 'package.json'), 'utf8'));
  const faults = faultsOf(packages, allowScripts);
  const audit = spawnSync('npm', ['audit', '--json', '--omit=dev'], {
    cwd: projectRoot,
    encoding: 'utf8',
    timeout: 60_000,
  });
  const known = parsed(audit.stdout)?.metadata?.vulnerabilities;
  if (known?.high || known?.critical)
    faults.push(`${known.high} high and ${known.critical} critical vulnerabilities are known: npm audit`);
  const vulnerable = known
    ? `${known.total} vulnerabilities known`
    : 'the registry does not say which vulnerabilities are known';
  const lock = new Map(packages);
  let asked = 0;
  let oldest = { name: '', days: 0 };
  await Promise.all(
    namedPackages().map(async (folder) => {
      const name = folder.replace('node_modules/', '');
      const times = await fetch(`https://registry.npmjs.org/${name}`, { signal: AbortSignal.timeout(60_000) })
        .then((answer) => (answer.ok ? answer.json() : null))
        .then((/** @type {any} */ told) => told?.time)
        .catch(() => null);
      const at = Date.parse(times?.[lock.get(folder)?.version ?? '']);
      if (!at) return;
      asked++;
      const days = (Date.now() - at) / dayMs;
      if (days < youngDays) faults.push(`${name} is ${days.toFixed(0)} days old: wait until others have used it`);
      const last = (Date.now() - Math.max(...Object.values(times).map((t) => Date.parse(String(t))))) / dayMs;
      if (last > oldest.days) oldest = { name, days: last };
    }),
  );
  if (oldest.days > oldDays)
    faults.push(`${oldest.name} had no new version for ${(oldest.days / 365).toFixed(1)} years`);
  const ages = asked
    ? `${asked} asked for their age, ${oldest.name} unchanged for longest (${(oldest.days / 365).toFixed(1)} years)`
    : 'no age was told';
  return { words: `${packages.length} packages: licences, digests, install scripts; ${vulnerable}; ${ages}`, faults };
}

/** @param {string} text @returns {any} */
function parsed(text) {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
