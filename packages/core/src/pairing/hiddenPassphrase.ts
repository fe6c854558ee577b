import { passphraseWeakness } from './passphrase';

/**
 * What stands for a passphrase wherever it is not shown: no passphrase begins with this mark, for it is no plain character. Behind it stand two digests, of the passphrase and
 * of it in small letters, so that both ends can still be compared, and why it is weak.
 */
const mark = '•';

export interface HiddenPassphrase {
  digest: string;
  /** of it in small letters: equal where only capitals differ */
  looseDigest: string;
  weakness: string | undefined;
}

/** @param digestOf a digest with a key: without that key nobody can try passphrases out on it */
export function hidePassphrase(passphrase: string, networkName: string, digestOf: (text: string) => string): string {
  const weakness = passphraseWeakness(passphrase, networkName) ?? '';
  return `${mark}${digestOf(passphrase)}.${digestOf(passphrase.toLowerCase())}.${weakness}`;
}

/** What is known of a passphrase that is not shown; null for one that is. */
export function readHidden(text: string | null): HiddenPassphrase | null {
  const [, digest = '', looseDigest = '', weakness = ''] = /^•([\w-]+)\.([\w-]+)\.(.*)$/.exec(text ?? '') ?? [];
  return digest ? { digest, looseDigest, weakness: weakness || undefined } : null;
}
