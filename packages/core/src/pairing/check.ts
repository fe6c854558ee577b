import { causes } from './causes';
import type { Finding, Pair } from './pair';

/** Every reason why a pair of sheets will not pair, then every warning. The pair pairs exactly when nothing blocks. */
export function checkPair(pair: Pair): Finding[] {
  const findings = causes.flatMap(({ cause, severity, find }) => {
    const found = find(pair);
    return found ? [{ cause, severity, ...found }] : [];
  });
  return findings.sort((a, b) => Number(a.severity === 'warns') - Number(b.severity === 'warns'));
}

export function willPair(pair: Pair): boolean {
  return !checkPair(pair).some((f) => f.severity === 'blocks');
}
