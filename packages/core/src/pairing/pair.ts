import type { End } from '../budget/plan';
import type { Model } from '../gear/model';
import type { RuleSet } from '../spectrum/ruleSet';
import type { Sheet } from './sheet';

/** One radio as the check sees it: its settings, its model, and how many stations it already serves. */
export interface PairingEnd {
  sheet: Sheet;
  model: Model;
  /** hardware address, as far as it is known */
  mac: string | null;
  /** stations other than this link's, on an access point */
  otherStations: number;
}

export interface Pair {
  near: PairingEnd;
  far: PairingEnd;
  /** the law of the countries that radios may be told they stand in */
  law: readonly RuleSet[];
}

/** Why two radios will not become one link, or what is unwise about them. */
export interface Finding {
  cause: string;
  /** blocks: they will not pair; forbids: they pair, but must not go up so; warns: unwise */
  severity: 'blocks' | 'forbids' | 'warns';
  /** the setting to look at */
  field: keyof Sheet;
  nearValue: string;
  farValue: string;
  reason: string;
  repair: string;
}

/** One cause: a small file in causes/ with the condition and its words. */
export interface Cause {
  cause: string;
  severity: Finding['severity'];
  find(pair: Pair): Omit<Finding, 'cause' | 'severity'> | undefined;
}

/** The end that is access point and the one that is station, where there is one of each. */
export function apAndStation(pair: Pair): { ap: PairingEnd; station: PairingEnd; apEnd: End } | undefined {
  const roles = [pair.near.sheet.role, pair.far.sheet.role];
  if (!roles.includes('ap') || !roles.includes('station')) return undefined;
  return pair.near.sheet.role === 'ap'
    ? { ap: pair.near, station: pair.far, apEnd: 'near' }
    : { ap: pair.far, station: pair.near, apEnd: 'far' };
}

/** Both ends as relays, which have no roles towards each other. */
export function isRelayPair({ near, far }: Pair): boolean {
  return near.sheet.role === 'relay' && far.sheet.role === 'relay';
}
