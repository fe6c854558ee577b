import { describe, expect, it } from 'vitest';
import { readTyped } from './typedLevel';

describe('a level that is typed in a hurry', () => {
  it('has its minus without one, and nothing is the same again', () => {
    expect(readTyped('63', null)).toBe(-63);
    expect(readTyped('-63,5', null)).toBe(-63.5);
    expect(readTyped('−63', null)).toBe(-63);
    expect(readTyped(' ', -70)).toBe(-70);
  });

  it('is told what is wrong with it, and never throws', () => {
    for (const [text, words] of [
      ['', 'Type the level'],
      ['6x', '6x'],
      ['633', 'between −120 and −1'],
      ['0', 'no level of a receiver'],
      ['1e400', ''],
    ] as const) {
      const read = readTyped(text, null);
      expect(read, text).toBeInstanceOf(Error);
      expect((read as Error).message).toContain(words);
    }
  });
});
