import { fork, type ChildProcess } from 'node:child_process';
import { createRequire } from 'node:module';
import { setPriority } from 'node:os';
import type { Logger } from 'pino';
import { bytesOf, secondsOf } from '../apart/use';
import { ApiProblem } from '../http/apiProblem';
import { Turns } from '../http/turns';
import type { Intake, Watching } from './intake';
import type { IntakeKind, IntakeMessage, IntakeResult, IntakeTask } from './task';

/** A file that needs more than this is none that anybody's tool wrote, or should be cut into pieces. */
const mostBytes = 400 * 1024 * 1024;

/**
 * How much of the processor a file may take, s. It is not the clock that counts: on a computer that is busy, reading with little right to the processor takes long.
 * A hundred million cells take a minute on a slow laptop.
 */
const mostSeconds: Record<IntakeKind, number> = {
  terrain: 900,
  job: 900,
  places: 10,
  test: 10,
  levels: 10,
  photo: 30,
  pdf: 30,
};

/** Files that may take minutes: what takes a moment does not wait behind them, for somebody waits for it on a roof. */
const isLong = new Set<IntakeKind>(['terrain', 'job']);

/** Files of each sort that are read at one time; so many more wait. */
const atOnce = 2;
const mostWaiting = 20;

/** How often the memory of a reading process is looked at, ms. */
const lookMs = 50;

/** How soon after a file comes the next, where somebody brings several, ms; so long a process waits that has started for it. */
const nextFileMs = 60_000;

/**
 * Reads files that come from outside, each in a process of its own, with less right to the processor than this one: whatever is in a file, it can neither hold
 * this process up nor take its memory. A process that takes too much or too long is ended; what it had begun in the database is then undone by the database.
 */
export class ProcessIntake implements Intake {
  private readonly running = new Set<ChildProcess>();
  private readonly turns = { long: new Turns(atOnce, mostWaiting), short: new Turns(atOnce, mostWaiting) };
  /** a process that has started and waits for its file */
  private spare: ChildProcess | undefined;
  private sparing: NodeJS.Timeout | undefined;
  private lastFileMs = -Infinity;

  constructor(
    private readonly log: Logger,
    private readonly limits: { bytes: number; seconds: Record<IntakeKind, number> } = {
      bytes: mostBytes,
      seconds: mostSeconds,
    },
  ) {}

  /** @throws ApiProblem that says what is wrong with the file */
  run<Kind extends IntakeKind>(
    kind: Kind,
    task: IntakeTask<Kind>,
    watching: Watching = {},
  ): Promise<IntakeResult<Kind>> {
    return this.turns[isLong.has(kind) ? 'long' : 'short'].run(() => {
      watching.signal?.throwIfAborted();
      return this.read(kind, task, watching);
    });
  }

  /** Ends whatever is being read. */
  stop(): void {
    this.endSpare();
    for (const child of this.running) child.kill('SIGKILL');
  }

  /** @param likely the kind of file that it will be given, as far as can be told */
  private start(likely: IntakeKind): ChildProcess {
    const child = fork(createRequire(import.meta.url).resolve('@kivram/server/intake'), [likely], {
      execArgv: ['--max-old-space-size=300'],
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      serialization: 'advanced',
    });
    // It never gets in the way of who aims meanwhile.
    if (child.pid) lowerPriority(child.pid);
    this.running.add(child);
    child.once('exit', () => {
      this.running.delete(child);
      if (this.spare === child) this.spare = undefined;
    });
    return child;
  }

  /** Starting takes as long as reading a photo: whoever brings a second file often brings a third. */
  private prepareNext(likely: IntakeKind): void {
    this.spare = undefined;
    const nowMs = performance.now();
    const isSecond = nowMs - this.lastFileMs < nextFileMs;
    this.lastFileMs = nowMs;
    clearTimeout(this.sparing);
    if (!isSecond) return;
    this.spare = this.start(likely);
    this.sparing = setTimeout(() => this.endSpare(), nextFileMs);
    this.sparing.unref();
  }

  private endSpare(): void {
    clearTimeout(this.sparing);
    this.spare?.kill();
    this.spare = undefined;
  }

  private read<Kind extends IntakeKind>(
    kind: Kind,
    task: IntakeTask<Kind>,
    { signal, onProgress }: Watching,
  ): Promise<IntakeResult<Kind>> {
    const child = this.spare?.connected ? this.spare : this.start(kind);
    this.prepareNext(kind);
    return new Promise<IntakeResult<Kind>>((resolve, reject) => {
      const end = (problem: Error): void => {
        reject(problem);
        child.kill('SIGKILL');
      };
      const aborted = (): void => end(signal?.reason instanceof Error ? signal.reason : new Error('given up'));
      const look = setInterval(() => {
        if (secondsOf(child) > this.limits.seconds[kind])
          end(tooMuch(kind, `takes more than ${this.limits.seconds[kind]} s to read`));
        if (bytesOf(child) > this.limits.bytes)
          end(tooMuch(kind, `needs more than ${Math.round(this.limits.bytes / 1024 / 1024)} MB of memory to read`));
      }, lookMs);
      signal?.addEventListener('abort', aborted);
      child.on('message', (message: IntakeMessage) => {
        if (message.type === 'progress') onProgress?.(message.share);
        else if (message.type === 'done') resolve(message.result as IntakeResult<Kind>);
        else if (message.type === 'refused') reject(problemFrom(message));
        else {
          this.log.error(
            { err: Object.assign(new Error(message.message), { stack: message.stack }) },
            'a file could not be read',
          );
          reject(new Error(message.message));
        }
      });
      child.once('error', reject);
      child.once('exit', () => {
        clearInterval(look);
        signal?.removeEventListener('abort', aborted);
      });
      // Its last word comes before this; without one, something in the file ended it.
      child.once('disconnect', () =>
        reject(tooMuch(kind, 'ended the process that read it, as one does that needs too much memory')),
      );
      child.send({ kind, task });
    });
  }
}

function tooMuch(kind: IntakeKind, what: string): ApiProblem {
  return new ApiProblem(
    422,
    'Not readable',
    `This file ${what}. Nothing was kept of it. It may be damaged; if not, ${kind === 'photo' ? 'send it smaller' : 'cut it into pieces'}.`,
  );
}

function problemFrom({ problem }: Extract<IntakeMessage, { type: 'refused' }>): ApiProblem {
  return new ApiProblem(problem.status, problem.title, problem.detail, problem.errors);
}

function lowerPriority(pid: number): void {
  try {
    setPriority(pid, 10);
  } catch {
    // It has ended already, and its exit says why.
  }
}
