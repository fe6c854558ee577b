import { describe, expect, it } from 'vitest';
import type { Reading } from './reading';
import { standingReadings } from './standingLevel';

const at = (tS: number, rslDbm: number | null, changes: Partial<Reading> = {}): Reading => ({
  end: 'near',
  tS,
  rslDbm,
  chainsDbm: [],
  phoneAzimuthDeg: null,
  phoneTiltDeg: null,
  ...changes,
});
const repeats = (from: number, to: number, rslDbm: number, changes: Partial<Reading> = {}): Reading[] =>
  Array.from({ length: to - from }, (_, i) => at(from + i, rslDbm, { isRepeat: true, ...changes }));
const levels = (...args: Parameters<typeof standingReadings>): (number | null)[] =>
  standingReadings(...args).map((r) => r.rslDbm);

describe('the level that an end ends with', () => {
  it('stands while its mount stands, however long ago it was typed', () => {
    const readings = [at(10, -63), at(20, -56), ...repeats(21, 120, -56)];
    expect(levels(readings, [], 'near', 'typed', 8)).toEqual([-56]);
    expect(levels(readings, [{ kind: 'locked', end: 'near', tS: 25 }], 'near', 'typed', 8)).toEqual([-56]);
    // The other end's turning is not this one's.
    expect(levels(readings, [{ kind: 'turning', direction: 1, end: 'far', tS: 60 }], 'near', 'typed', 8)).toEqual([
      -56,
    ]);
    expect(levels(readings, [], 'far', 'typed', 8)).toEqual([]);
  });

  it.each([
    ['a notch', [{ kind: 'notch', direction: 1, end: 'near', tS: 40 }]],
    ['turning on', [{ kind: 'turning', direction: -1, end: 'near', tS: 40 }]],
    ['turning that had begun before, and went on', [{ kind: 'turning', direction: 1, end: 'near', tS: 15 }]],
    [
      'turning that had begun before, and ended after',
      [
        { kind: 'turning', direction: 1, end: 'near', tS: 15 },
        { kind: 'turning', direction: 0, end: 'near', tS: 22 },
      ],
    ],
  ] as const)('is gone with %s', (_, marks) => {
    expect(levels([at(20, -56), ...repeats(21, 60, -56)], marks, 'near', 'typed', 8)).toEqual([]);
  });

  it('is gone where the phone on the antenna moved since, and not where its zero wandered', () => {
    const then = at(20, -56, { phoneAzimuthDeg: 100 });
    const moved = (byDeg: number) => repeats(21, 60, -56, { phoneAzimuthDeg: 100 + byDeg });
    expect(levels([then, ...moved(20)], [], 'near', 'typed', 8)).toEqual([]);
    expect(levels([then, ...moved(2)], [], 'near', 'typed', 8)).toEqual([-56]);
  });

  it('of a radio that is asked is the last three seconds of what it told', () => {
    const readings = Array.from({ length: 100 }, (_, i) => at(i / 10, i < 80 ? -70 : -50));
    const last = levels(readings, [], 'near', 'snmp', 8);
    expect(last).toHaveLength(30);
    // A table is read like a radio.
    expect(levels(readings, [], 'near', 'table', 8)).toHaveLength(30);
  });
});
