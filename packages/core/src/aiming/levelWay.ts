import type { EvidenceKind } from '../evidence/evidence';

/**
 * How the level that a radio hears is got: from a simulated radio; asked of the radio by SNMP, by an address that answers JSON, or by a command of this computer;
 * typed by whoever reads it off the radio's page or lights; or pasted as a table with times.
 */
export const levelWays = ['standin', 'snmp', 'http', 'command', 'typed', 'table'] as const;
export type LevelWay = (typeof levelWays)[number];

export const levelWayWords: Record<LevelWay, string> = {
  standin: 'the stand-in radio (simulated)',
  snmp: 'the radio, by SNMP',
  http: 'an address that answers JSON',
  command: 'a command of this computer',
  typed: 'typed by hand',
  table: 'a pasted table',
};

/** Whether the program asks a device by itself. */
export const isAsked = (way: LevelWay): boolean => way === 'snmp' || way === 'http' || way === 'command';

/** How what was read in these ways is known, all together: no better than the weakest of them. */
export function evidenceOfWays(ways: readonly LevelWay[]): EvidenceKind {
  if (ways.includes('standin')) return 'standin';
  return ways.every(isAsked) ? 'measured' : 'told';
}

/** Level of several receive chains together: their powers add up. @returns dBm; null of none */
export function combinedDbm(chainsDbm: readonly number[]): number | null {
  if (!chainsDbm.length) return null;
  return 10 * Math.log10(chainsDbm.reduce((sum, dbm) => sum + 10 ** (dbm / 10), 0));
}
