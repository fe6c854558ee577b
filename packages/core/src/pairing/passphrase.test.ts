import { describe, expect, it } from 'vitest';
import { makePassphrase, passphraseWeakness } from './passphrase';

const counting = () => {
  let next = 0;
  return (count: number) => Uint8Array.from({ length: count }, () => next++ % 256);
};

describe('passphrases', () => {
  it('has five groups of four unmistakable characters, within the 8 to 63 of IEEE 802.11', () => {
    expect(makePassphrase(counting())).toMatch(/^([a-hjkmnp-z2-9]{4}-){4}[a-hjkmnp-z2-9]{4}$/);
  });

  it('uses every character equally: eight byte values each, and the last eight of 256 for none', () => {
    const seen = new Map<string, number>();
    for (let byte = 0; byte < 256; byte++) {
      // A source of one value only; a usable one comes after it, so that a refused value does not go on for ever.
      const first =
        makePassphrase((count) => Uint8Array.from({ length: count }, (_, i) => (i % 2 ? 0 : byte))).at(0) ?? '';
      seen.set(first, (seen.get(first) ?? 0) + 1);
    }
    expect(seen.size).toBe(31);
    expect(seen.get('a')).toBe(16); // its own eight, and the refused eight fall through to the value behind
    seen.delete('a');
    expect([...new Set(seen.values())]).toEqual([8]);
  });

  it.each([
    ['12345678', 'guessed'],
    ['password1', 'guessed'],
    ['quay-ice-2026', 'network name'],
    ['k3x9mmp2', 'tried out'],
  ])('calls %s weak', (passphrase, why) => {
    expect(passphraseWeakness(passphrase, 'quay-ice')).toContain(why);
  });

  it('accepts its own', () => {
    expect(passphraseWeakness(makePassphrase(counting()), 'quay-ice')).toBeUndefined();
  });
});
