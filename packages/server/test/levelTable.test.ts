import { describe, expect, it } from 'vitest';
import { readLevelTable } from '../src/formats/levelTable';

const levels = (text: string) => readLevelTable(text).levels.map(({ at, rslDbm }) => [Object.values(at)[0], rslDbm]);

describe('a table of levels with times', () => {
  it('is read with a head or without one, as commas, tabs and semicolons have it', () => {
    expect(levels('time,level\n0,-63\n1.5,-62.5')).toEqual([
      [0, -63],
      [1.5, -62.5],
    ]);
    expect(levels('10:00:01\t-63\n10:00:02\t-62 dBm')).toEqual([
      [36_001, -63],
      [36_002, -62],
    ]);
    expect(levels('Zeit;Signal (dBm)\n0,5;-63,5')).toEqual([[0.5, -63.5]]);
    expect(levels('\ufefft,rssi\n1,−70\n')).toEqual([[1, -70]]);
    expect(levels('2026-05-04T10:00:00Z,-60')).toEqual([[Date.UTC(2026, 4, 4, 10), -60]]);
  });

  it('finds chains and angles by their heads', () => {
    const {
      levels: [first],
    } = readLevelTable('level,chain 1,chain 2,time,azimuth,tilt\n-60,-63,-63.5,5,12.5,-1');
    expect(first).toMatchObject({
      at: { seconds: 5 },
      rslDbm: -60,
      chainsDbm: [-63, -63.5],
      azimuthDeg: 12.5,
      tiltDeg: -1,
    });
  });

  it('takes a word, nothing and 0 for silence', () => {
    expect(levels('time,level\n1,no link\n2,\n3,0')).toEqual([
      [1, null],
      [2, null],
      [3, null],
    ]);
  });

  it('says of each wrong line what is wrong, and takes the others', () => {
    const { refused, levels: taken } = readLevelTable(
      'time,level\nnoon,-60\n1,63\n2,-6x3\n3,-700\n25:00:00,-60\n4,-61',
    );
    expect(refused).toEqual([
      { line: 2, reason: expect.stringContaining('"noon" is no time') },
      { line: 3, reason: expect.stringContaining('written with a minus') },
      { line: 4, reason: expect.stringContaining('"-6x3" is no level') },
      { line: 5, reason: expect.stringContaining('under every noise') },
      { line: 6, reason: expect.stringContaining('is no time') },
    ]);
    expect(taken).toHaveLength(1);
  });

  it('names the columns that it does not use', () => {
    expect(readLevelTable('time,level,SNR,chain 1,noise floor\n1,-60,30,-63,-95').unused).toEqual([
      'SNR',
      'noise floor',
    ]);
    expect(readLevelTable('1,-60,-63').unused).toEqual([]);
  });

  it('makes nothing of what is no table', () => {
    for (const text of ['', '\0', '"', '<html><body>', ',,,\n,,,', '"a\n"b",c'])
      expect(() => readLevelTable(text).levels, text).not.toThrow();
  });
});
