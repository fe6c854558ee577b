import { causes } from './causes';
import type { Finding, Pair } from './pair';
import { checkSite, type SheetPlan, type Site } from './site';

/** Every reason why a pair of sheets will not pair, then every warning. The pair pairs exactly when nothing blocks. */
export function checkPair(pair: Pair): Finding[] {
  const findings = causes.flatMap(({ cause, severity, find }) => {
    const found = find(pair);
    return found ? [{ cause, severity, ...found }] : [];
  });
  return worstFirst(findings);
}

const order: readonly Finding['severity'][] = ['blocks', 'forbids', 'warns'];

/** Both sheets as a pair, and where they are going to stand. */
export function checkBench(pair: Pair, site: Site, plan: SheetPlan): Finding[] {
  return worstFirst([...checkPair(pair), ...checkSite(pair, site, plan)]);
}

function worstFirst(findings: Finding[]): Finding[] {
  return findings.sort((a, b) => order.indexOf(a.severity) - order.indexOf(b.severity));
}

export function willPair(pair: Pair): boolean {
  return !checkPair(pair).some((f) => f.severity === 'blocks');
}
