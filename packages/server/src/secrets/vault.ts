import { createCipheriv, createDecipheriv, createHmac, randomBytes } from 'node:crypto';
import { ApiProblem } from '../http/apiProblem';

/** What a sealed text begins with: the way it is sealed, and room for another one. */
const mark = 'v1.';
export const keyBytes = 32;
const ivBytes = 12;
const tagBytes = 16;

/** What Kivram was started with makes no sense. */
export class KeyError extends Error {}

/** Keys as they are told to a process, in base64 with commas between them. @throws KeyError naming what is wrong */
function keysIn(text: string): Buffer[] {
  return text
    .split(',')
    .filter(Boolean)
    .map((word) => {
      const key = Buffer.from(word, 'base64');
      if (key.length === keyBytes) return key;
      throw new KeyError(`A key has ${key.length} bytes instead of ${keyBytes}: put the key file back that was there.`);
    });
}

/**
 * Seals secrets before they go into the database, and opens them: AES-256-GCM with a random 96-bit initialisation vector for each (NIST SP 800-38D, sections 5.2.1.1 and 8.2.2), so
 * that whoever has the database, or a copy of it, has no passphrase. What an older key has sealed is opened by that one.
 */
export class Vault {
  private keys: readonly Buffer[];
  /** stands for a key that is missing, where nothing is sealed by it */
  private readonly passing = randomBytes(keyBytes);

  /** @param text keys in base64, with commas between them, the one that seals first. @throws KeyError */
  constructor(text: string) {
    this.keys = keysIn(text);
  }

  /** Without a key nothing is sealed. */
  get hasKey(): boolean {
    return this.keys.length > 0;
  }

  /** Seals and opens by these keys from now on. @throws KeyError */
  use(text: string): void {
    this.keys = keysIn(text);
  }

  /** @throws ApiProblem while there is no key */
  seal(text: string): string {
    const [key] = this.keys;
    if (!key)
      throw new ApiProblem(
        409,
        'The key is missing',
        'Passphrases and passwords cannot be kept now: the key that seals them is missing. At the computer that Kivram runs on, bring it back under Jobs, or begin a new one there.',
      );
    const iv = randomBytes(ivBytes);
    const cipher = createCipheriv('aes-256-gcm', key, iv);
    const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
    return mark + Buffer.concat([iv, cipher.getAuthTag(), sealed]).toString('base64url');
  }

  /** @returns null where no key that is here has sealed it, or where it was changed since */
  open(sealed: string): string | null {
    const bytes = Buffer.from(sealed.slice(mark.length), 'base64url');
    for (const key of this.keys) {
      try {
        const cipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, ivBytes), { authTagLength: tagBytes });
        cipher.setAuthTag(bytes.subarray(ivBytes, ivBytes + tagBytes));
        return cipher.update(bytes.subarray(ivBytes + tagBytes), undefined, 'utf8') + cipher.final('utf8');
      } catch {
        // Another key may have sealed it.
      }
    }
    return null;
  }

  /** A secret of its own for another purpose, in base64url: the same as long as the key is, and no way back to it (HMAC-SHA-256 as a key derivation, NIST SP 800-108r1, section 4). */
  derive(purpose: string): string {
    return createHmac('sha256', this.keys[0] ?? this.passing)
      .update(purpose)
      .digest('base64url');
  }

  /** A short digest of a text, the same for the same text: who does not have the key can compare two, and try nothing out. */
  digest(text: string): string {
    return this.derive(`digest ${text}`).slice(0, 22);
  }

  /** What stands in the database, in the clear: from before there was a key it may be so already. @returns null where it cannot be opened */
  read(stored: string): string | null {
    return stored.startsWith(mark) ? this.open(stored) : stored;
  }
}

let known: Vault | undefined;

/** The vault of this process, by the keys in its environment. @throws KeyError */
export function vault(): Vault {
  known ??= new Vault(process.env.KIVRAM_KEY ?? '');
  return known;
}
