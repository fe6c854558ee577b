import { createCipheriv, createDecipheriv, createHmac, randomBytes } from 'node:crypto';

/** What a sealed text begins with: the way it is sealed, and room for another one. */
const mark = 'v1.';
const keyBytes = 32;
const ivBytes = 12;
const tagBytes = 16;

/** What Kivram was started with makes no sense. */
export class KeyError extends Error {}

/** The key that the start command keeps in a file of its own, outside of the database. @throws KeyError */
function keyOf(text: string | undefined): Buffer {
  const key = Buffer.from(text ?? '', 'base64');
  if (key.length === keyBytes) return key;
  throw new KeyError(
    `KIVRAM_KEY is ${text ? `a key of ${key.length} bytes` : 'not set'}: start Kivram with "npm start" or "npm run demo", which keep a key of ${keyBytes} bytes.`,
  );
}

/**
 * Seals secrets before they go into the database, and opens them: AES-256-GCM with a random 96-bit initialisation vector for each (NIST SP 800-38D, sections 5.2.1.1 and 8.2.2), so
 * that whoever has the database, or a copy of it, has no passphrase.
 */
export class Vault {
  private readonly key: Buffer;

  constructor(keyText: string | undefined) {
    this.key = keyOf(keyText);
  }

  seal(text: string): string {
    const iv = randomBytes(ivBytes);
    const cipher = createCipheriv('aes-256-gcm', this.key, iv);
    const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
    return mark + Buffer.concat([iv, cipher.getAuthTag(), sealed]).toString('base64url');
  }

  /** @throws KeyError where it was sealed with another key, or changed since */
  open(sealed: string): string {
    const bytes = Buffer.from(sealed.slice(mark.length), 'base64url');
    try {
      const cipher = createDecipheriv('aes-256-gcm', this.key, bytes.subarray(0, ivBytes), { authTagLength: tagBytes });
      cipher.setAuthTag(bytes.subarray(ivBytes, ivBytes + tagBytes));
      return cipher.update(bytes.subarray(ivBytes + tagBytes), undefined, 'utf8') + cipher.final('utf8');
    } catch (error) {
      throw new KeyError(
        'A passphrase cannot be opened with the key that Kivram was started with. Put the key file back that belongs to this database.',
        { cause: error },
      );
    }
  }

  /** A secret of its own for another purpose, in base64url: the same as long as the key is, and no way back to it (HMAC-SHA-256 as a key derivation, NIST SP 800-108r1, section 4). */
  derive(purpose: string): string {
    return createHmac('sha256', this.key).update(purpose).digest('base64url');
  }

  /** A short digest of a text, the same for the same text: who does not have the key can compare two, and try nothing out. */
  digest(text: string): string {
    return this.derive(`digest ${text}`).slice(0, 22);
  }

  /** What stands in the database, in the clear: from before there was a key it may be so already. @throws KeyError */
  read(stored: string): string {
    return stored.startsWith(mark) ? this.open(stored) : stored;
  }
}

let known: Vault | undefined;

/** The vault of this process, by the key in its environment. @throws KeyError */
export function vault(): Vault {
  known ??= new Vault(process.env.KIVRAM_KEY);
  return known;
}
