import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hidePassphrase, readHidden } from './hiddenPassphrase';
import { passphraseWeakness } from './passphrase';
import { passphrase as matching } from './causes/security';
import { weakPassphrase } from './causes/advice';
import type { Pair } from './pair';

/** Any digest does that is the same for the same text only. */
const digestOf = (text: string): string => [...text].map((c) => c.charCodeAt(0).toString(16)).join('-');
const hidden = (text: string): string => hidePassphrase(text, 'kiln-far', digestOf);
const plain = fc.string({
  minLength: 8,
  maxLength: 63,
  unit: fc.integer({ min: 0x20, max: 0x7e }).map((c) => String.fromCharCode(c)),
});

function found(near: string | null, far: string | null, cause = matching) {
  const sheet = (passphrase: string | null) => ({ security: 'wpa2-psk', networkName: 'kiln-far', passphrase });
  return cause.find({ near: { sheet: sheet(near) }, far: { sheet: sheet(far) } } as unknown as Pair);
}

describe('a passphrase that is not shown', () => {
  it('is told from every one that is', () => {
    fc.assert(
      fc.property(plain, (text) => {
        expect(readHidden(text)).toBeNull();
        expect(readHidden(hidden(text))?.weakness).toBe(passphraseWeakness(text, 'kiln-far'));
      }),
    );
    expect([null, '', '•', '•abc'].map(readHidden)).toEqual([null, null, null, null]);
  });

  it('is judged like one that is shown', () => {
    fc.assert(
      fc.property(plain, plain, (a, b) => {
        for (const [near, far] of [
          [a, a],
          [a, b],
          [a, a.toUpperCase()],
        ] as const) {
          expect(found(hidden(near), hidden(far))?.reason).toBe(found(near, far)?.reason);
          expect(found(hidden(near), hidden(far), weakPassphrase)?.reason).toBe(
            found(near, far, weakPassphrase)?.reason,
          );
        }
      }),
    );
  });

  it('cannot be compared with one that was typed', () => {
    expect(found(hidden('abcd-efgh-jkmn'), 'abcd-efgh-jkmn')?.reason).toContain('not shown');
    expect(found('abcd-efgh-jkmn', hidden('abcd-efgh-jkmn'))?.nearValue).toBe('14 characters');
    // One that is not in this copy is another cause.
    expect(found(hidden('abcd-efgh-jkmn'), null)).toBeUndefined();
  });
});
