import { entropyToMnemonic, mnemonicToEntropy } from '@scure/bip39';
import { wordlist } from '@scure/bip39/wordlists/english.js';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { keyBytes, KeyError } from './vault';

/** Stands in the file once its key was written down elsewhere. */
const shownMark = '# written down';

/** The keys of this computer's passphrases, in a file that only its owner may read: a key a line, the one that seals first. It lies outside of the database, whose copies tell no secret. */
export class KeyFile {
  /** @param path none where keys come from the environment only, and last as long as this process */
  constructor(private readonly path: string | undefined) {}

  /** @returns none where there is none yet, or it is lost */
  keys(): string[] {
    return this.lines().filter((line) => !line.startsWith('#'));
  }

  get wasWrittenDown(): boolean {
    return this.lines().includes(shownMark);
  }

  /** Makes the first key. Only where nothing is sealed yet: a new key in the place of a lost one would hide the loss. */
  begin(): void {
    if (!this.path) throw new KeyError('There is no key: start Kivram with "npm start" or "npm run demo".');
    mkdirSync(dirname(this.path), { recursive: true });
    try {
      writeFileSync(this.path, `${newKey()}\n`, { mode: 0o600, flag: 'wx' });
    } catch (error) {
      // Where two servers start, the first one's key is the key.
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
  }

  /** A new key that seals from now on; the others go on to open. */
  beginAnew(): void {
    this.write([newKey(), ...this.keys()]);
  }

  /** Takes a key that opens what was sealed before. It seals where there is no other. */
  add(key: string): void {
    if (!this.keys().includes(key)) this.write([...this.lines(), key]);
  }

  noteWrittenDown(): void {
    this.write([shownMark, ...this.keys()]);
  }

  private lines(): string[] {
    if (!this.path) return (process.env.KIVRAM_KEY ?? '').split(',').filter(Boolean);
    if (!existsSync(this.path)) return [];
    return readFileSync(this.path, 'utf8').split('\n').filter(Boolean);
  }

  /** All of it or nothing: a file that was half written would be a lost key. */
  private write(lines: string[]): void {
    if (!this.path) {
      process.env.KIVRAM_KEY = lines.filter((line) => !line.startsWith('#')).join();
      return;
    }
    const next = `${this.path}.next`;
    writeFileSync(next, `${lines.join('\n')}\n`, { mode: 0o600 });
    renameSync(next, this.path);
  }
}

const newKey = (): string => randomBytes(keyBytes).toString('base64');

/** A key as 24 words to be written down, with a checksum (BIP-0039, English list). */
export function wordsOf(key: string): string {
  return entropyToMnemonic(Buffer.from(key, 'base64'), wordlist);
}

/** A key as somebody brings it back: as words, or as it stands in its file. @returns null where it is none */
export function keyFrom(text: string): string | null {
  const words = text.toLowerCase().match(/[a-z]+/g) ?? [];
  if (words.length === 24) {
    try {
      return Buffer.from(mnemonicToEntropy(words.join(' '), wordlist)).toString('base64');
    } catch {
      return null;
    }
  }
  const line = text.split('\n').find((one) => one.trim() && !one.startsWith('#'));
  const bytes = Buffer.from(line?.trim() ?? '', 'base64');
  return bytes.length === keyBytes ? bytes.toString('base64') : null;
}
