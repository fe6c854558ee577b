import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/**
 * The key that passphrases of radios are sealed with in the database: made once, in a file of its own that nobody else may read. Without it they are lost.
 * @param {string} file @returns {string} 32 bytes in base64
 */
export function keyIn(file) {
  if (!existsSync(file)) {
    mkdirSync(dirname(file), { recursive: true });
    // Where two starts meet, the first one's key is the key.
    try {
      writeFileSync(file, newKey(), { mode: 0o600, flag: 'wx' });
    } catch (error) {
      if (/** @type {NodeJS.ErrnoException} */ (error).code !== 'EEXIST') throw error;
    }
  }
  return readFileSync(file, 'utf8').trim();
}

export function newKey() {
  return randomBytes(32).toString('base64');
}
