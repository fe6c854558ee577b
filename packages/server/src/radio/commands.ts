import { CommandList, type NamedCommand } from '@kivram/contract/entities/command';
import { check } from '@kivram/contract/validate';
import { createHash } from 'node:crypto';
import { closeSync, fstatSync, openSync, readFileSync, statSync, type Stats } from 'node:fs';
import { dirname } from 'node:path';
import { DeviceError } from './devices/device';

const mostBytes = 200_000;

/** Others who may write: the group, or everybody (stat(2)). */
const othersWrite = 0o022;

/**
 * The commands of this computer: in a file that only its owner may write, never in a job. A job names one; what is run is what stands here under that name, and only where
 * somebody at this computer has allowed it.
 */
export class Commands {
  /** @param file where they stand; none where this computer runs no commands */
  constructor(readonly file: string | null) {}

  /** @returns none where there is no file. @throws DeviceError where the file is not to be trusted, or cannot be read */
  list(): NamedCommand[] {
    const text = this.text();
    if (text === null) return [];
    let plain: unknown;
    try {
      plain = JSON.parse(text);
    } catch (error) {
      throw this.wrong(`is no JSON (${(error as Error).message})`);
    }
    const { value, errors } = check(CommandList, plain);
    if (errors) throw this.wrong(`is not as it should be: ${errors.map(({ message }) => message).join('. ')}`);
    const names = value.commands.map(({ name }) => name);
    const twice = names.find((name, i) => names.indexOf(name) !== i);
    if (twice !== undefined) throw this.wrong(`has two commands called "${twice}"`);
    return value.commands;
  }

  /** What is run for a name. @param allowed the digest of what was allowed to run for it. @throws DeviceError that says what is missing, and who mends it */
  allowed(name: string, allowed: string | null): NamedCommand {
    const command = this.list().find((one) => one.name === name);
    if (!command)
      throw new DeviceError(
        this.file
          ? `There is no command "${name}" on this computer: its owner writes it into ${this.file}.`
          : 'No commands are run here: they are for "npm start".',
      );
    if (digestOf(command) === allowed) return command;
    throw new DeviceError(
      `The command "${name}" was not allowed to run for this end${allowed === null ? '' : ' as it stands now'}: at the computer that Kivram runs on, look at what it runs and choose it again.`,
    );
  }

  private text(): string | null {
    if (!this.file) return null;
    let descriptor: number;
    try {
      descriptor = openSync(this.file, 'r');
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
      throw this.wrong('cannot be read: Kivram may not open it');
    }
    try {
      const stats = fstatSync(descriptor);
      if (!stats.isFile()) throw this.wrong('is no file');
      // Whoever may put another file in its place may write it.
      if (!isOwn(stats) || !isOwn(statSync(dirname(this.file))))
        throw this.wrong(
          'may be written by others than you: take it and its folder to yourself (chown), and let nobody else write (chmod go-w)',
        );
      if (stats.size > mostBytes) throw this.wrong(`is longer than ${mostBytes / 1000} kB`);
      return readFileSync(descriptor, 'utf8');
    } finally {
      closeSync(descriptor);
    }
  }

  private wrong(what: string): DeviceError {
    return new DeviceError(`No command is run: the file ${this.file} ${what}.`);
  }
}

function isOwn({ uid, mode }: Stats): boolean {
  return (uid === process.getuid?.() || uid === 0) && (mode & othersWrite) === 0;
}

/** What stands for a command as it was when it was allowed. */
export function digestOf({ program, arguments: text }: NamedCommand): string {
  return createHash('sha256')
    .update(JSON.stringify([program, text]))
    .digest('base64url');
}
