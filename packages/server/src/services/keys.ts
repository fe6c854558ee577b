import type { KeyView } from '@kivram/contract/views/key';
import type { Sequelize } from 'sequelize';
import { ApiProblem } from '../http/apiProblem';
import { keyFrom, wordsOf, type KeyFile } from '../secrets/keyFile';
import { countSealed } from '../secrets/sealing';
import { vault } from '../secrets/vault';

/** The key that passphrases are sealed with: written down, brought back, begun anew. Only at the computer that it lies on. */
export class Keys {
  private unreadable = 0;

  private constructor(
    private readonly sequelize: Sequelize,
    private readonly file: KeyFile,
  ) {}

  /** Begins with the keys of the file. Where it has none, one is made, unless something was sealed by one that is lost. */
  static async in(sequelize: Sequelize, file: KeyFile): Promise<Keys> {
    const keys = new Keys(sequelize, file);
    if (!vault().hasKey && !file.keys().length && (await countSealed(sequelize)).sealed === 0) file.begin();
    await keys.take();
    return keys;
  }

  /** What cannot be read for want of a key, in words; null where all can. */
  get warning(): string | null {
    if (!this.unreadable) return null;
    const what =
      this.unreadable === 1
        ? 'One passphrase or password cannot be read: the key that sealed it is missing, and it looks as if there were none.'
        : `${this.unreadable} passphrases and passwords cannot be read: the key that sealed them is missing, and they look as if there were none.`;
    return `${what} At the computer that Kivram runs on, bring the key back under Jobs.`;
  }

  view(): KeyView {
    return {
      isMissing: !vault().hasKey,
      unreadable: this.unreadable,
      mayBeWrittenDown: this.file.keys().length > 0 && !this.file.wasWrittenDown,
    };
  }

  /** The key as words, to be written down: told again where an answer was lost, and no more once it is said to be written down. @throws ApiProblem */
  writeDown(): { words: string; key: string } {
    const [key] = this.file.keys();
    if (!key || this.file.wasWrittenDown)
      throw new ApiProblem(
        409,
        'Told already',
        'The key was written down already; it stands in its file on this computer.',
      );
    return { words: wordsOf(key), key };
  }

  /** From now on it stands in its file only. */
  noteWrittenDown(): KeyView {
    if (this.view().mayBeWrittenDown) this.file.noteWrittenDown();
    return this.view();
  }

  /** @throws ApiProblem where the text is no key, or one that opens nothing here */
  async bringBack(text: string): Promise<KeyView> {
    const key = keyFrom(text);
    if (!key)
      throw new ApiProblem(
        422,
        'No key',
        'This is no key: it has 24 words, in their order and spelt as they were written down, or is the line of the key file.',
      );
    const before = this.file.keys().join();
    vault().use([before, key].filter(Boolean).join());
    const { unreadable } = await countSealed(this.sequelize);
    if (unreadable >= this.unreadable && this.unreadable > 0) {
      vault().use(before);
      throw new ApiProblem(422, 'Another key', 'This is a key, and none of what cannot be read was sealed with it.');
    }
    this.file.add(key);
    await this.take();
    // What was computed meanwhile took what could not be read for nothing.
    await this.sequelize.query('DELETE FROM link_memo');
    return this.view();
  }

  /** From now on a new key seals; what cannot be read stays as it is, in case the old one turns up. */
  async beginAnew(): Promise<KeyView> {
    if (vault().hasKey) throw new ApiProblem(409, 'There is one', 'There is a key that seals.');
    this.file.beginAnew();
    await this.take();
    return this.view();
  }

  private async take(): Promise<void> {
    const keys = this.file.keys();
    if (keys.length) {
      vault().use(keys.join());
      // The processes that read files seal by it too.
      process.env.KIVRAM_KEY = keys.join();
    }
    ({ unreadable: this.unreadable } = await countSealed(this.sequelize));
  }
}
