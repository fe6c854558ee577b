import { fork, type ChildProcess } from 'node:child_process';
import { createRequire } from 'node:module';
import type { DeviceAnswer } from '@kivram/contract/views/level';
import { bytesOf, secondsOf } from '../../apart/use';
import { DeviceError, exploreMs, type LevelDevice, type ToldLevel } from './device';
import { CertificateError } from './httpAnswer';
import type { FromDevice, ToDevice } from './message';
import type { Devices, DeviceSetup } from './setup';
import { OutsideError } from './whereabouts';

/** What a process that asks one device may hold and take of a processor; a radio is asked ten times a second, each time for milliseconds. */
interface Limits {
  bytes: number;
  /** share of a processor over the time that is looked at */
  share: number;
  /** how long an answer may be under way: longer than any device is waited for, ms */
  answerMs: number;
}
const usualLimits: Limits = { bytes: 250 * 1024 * 1024, share: 0.6, answerMs: exploreMs + 4000 };

/** How often its memory is looked at, and its share of the processor, ms. */
const lookMs = 250;
const shareMs = 5000;

/** The wait before it is started again, from the first death on, ms. */
const firstWaitMs = 500;
const longestWaitMs = 60_000;
/** One that has lived so long begins to count anew, ms. */
const goodLifeMs = 120_000;

/** Devices that are asked at one time: both ends of a dozen links. */
const mostAtOnce = 24;

/** Asks each device in a process of its own: whatever it answers ends that process at most, which is started again after a growing wait. */
export class DeviceProcesses implements Devices {
  private readonly asked = new Set<DeviceProcess>();

  constructor(private readonly limits: Limits = usualLimits) {}

  open(setup: DeviceSetup): LevelDevice {
    if (this.asked.size >= mostAtOnce)
      throw new DeviceError(
        `${mostAtOnce} radios are being asked at this moment, and no more at once: end an alignment that nobody needs.`,
      );
    const device = new DeviceProcess(setup, this.limits, () => this.asked.delete(device));
    this.asked.add(device);
    return device;
  }

  stop(): void {
    for (const device of this.asked) device.close();
  }
}

function errorOf({ words, outside, certificate }: Extract<FromDevice, { words: string }>): DeviceError {
  if (outside) return OutsideError.said(words, outside);
  return certificate ? CertificateError.said(words, certificate) : new DeviceError(words);
}

interface Waiting {
  resolve(said: Exclude<FromDevice, { words: string }>): void;
  reject(error: Error): void;
  askedAt: number;
}

class DeviceProcess implements LevelDevice {
  private child: ChildProcess | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private nextId = 0;
  private isOpen = true;
  private startedAt = 0;
  private deaths = 0;
  private notBefore = -Infinity;
  private looking: NodeJS.Timeout | undefined;

  constructor(
    private readonly setup: DeviceSetup,
    private readonly limits: Limits,
    private readonly closed: () => void,
  ) {}

  async ask(): Promise<ToldLevel> {
    const said = await this.question('ask');
    if ('told' in said) return said.told;
    throw new DeviceError('The radio cannot be read.');
  }

  async explore(branch?: string): Promise<DeviceAnswer> {
    const said = await this.question('explore', branch);
    if ('answer' in said) return said.answer;
    throw new DeviceError('The radio cannot be read.');
  }

  close(): void {
    if (!this.isOpen) return;
    this.isOpen = false;
    this.closed();
    clearInterval(this.looking);
    this.child?.kill('SIGKILL');
    this.failAll(new DeviceError('The radio is not asked any more.'));
  }

  private question(what: 'ask' | 'explore', branch?: string): Promise<Exclude<FromDevice, { words: string }>> {
    return new Promise((resolve, reject) => {
      const child = this.isOpen ? this.running() : null;
      if (!child) return reject(this.resting());
      const id = this.nextId++;
      this.waiting.set(id, { resolve, reject, askedAt: performance.now() });
      this.tell(child, { id, what, ...(branch !== undefined && { branch }) });
    });
  }

  private resting(): DeviceError {
    const seconds = Math.max(1, Math.ceil((this.notBefore - performance.now()) / 1000));
    return new DeviceError(
      `What this radio answered ended the program that reads it, ${this.deaths === 1 ? 'once' : `${this.deaths} times`}. It is asked again in ${seconds} s.`,
    );
  }

  /** The process, started where there is none; null while it must wait. */
  private running(): ChildProcess | null {
    if (this.child) return this.child;
    if (performance.now() < this.notBefore) return null;
    const child = fork(createRequire(import.meta.url).resolve('@kivram/server/device'), [], {
      execArgv: ['--max-old-space-size=96'],
      // Nothing of the server's own: neither the address of its database nor its key.
      env: { PATH: process.env.PATH, HOME: process.env.HOME, LANG: process.env.LANG },
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      serialization: 'advanced',
    });
    this.child = child;
    this.startedAt = performance.now();
    child.on('message', (said: FromDevice) => this.take(said));
    // It could not be started, or told something: its exit says so too.
    child.on('error', () => this.gone(child));
    child.once('exit', () => this.gone(child));
    this.tell(child, { setup: this.setup });
    this.look(child);
    return child;
  }

  private tell(child: ChildProcess, message: ToDevice): void {
    // One that has just ended hears nothing; that it has is told by its exit.
    child.send(message, () => undefined);
  }

  private take(said: FromDevice): void {
    const waiting = this.waiting.get(said.id);
    this.waiting.delete(said.id);
    if (!waiting) return;
    if (!('words' in said)) waiting.resolve(said);
    else waiting.reject(errorOf(said));
  }

  /** Ends it where it takes too much, or does not answer at all. */
  private look(child: ChildProcess): void {
    let sinceMs = performance.now();
    let usedS = 0;
    this.looking = setInterval(() => {
      const nowMs = performance.now();
      const oldest = Math.min(...[...this.waiting.values()].map(({ askedAt }) => askedAt));
      let isTooMuch = bytesOf(child) > this.limits.bytes || nowMs - oldest > this.limits.answerMs;
      if (nowMs - sinceMs > shareMs) {
        const nowS = secondsOf(child);
        isTooMuch ||= (1000 * (nowS - usedS)) / (nowMs - sinceMs) > this.limits.share;
        [sinceMs, usedS] = [nowMs, nowS];
      }
      if (isTooMuch) child.kill('SIGKILL');
    }, lookMs);
    this.looking.unref();
  }

  private gone(child: ChildProcess): void {
    if (this.child !== child) return;
    this.child = null;
    clearInterval(this.looking);
    if (!this.isOpen) return;
    const nowMs = performance.now();
    this.deaths = nowMs - this.startedAt > goodLifeMs ? 1 : this.deaths + 1;
    this.notBefore = nowMs + Math.min(longestWaitMs, firstWaitMs * 2 ** (this.deaths - 1));
    this.failAll(this.resting());
  }

  private failAll(error: Error): void {
    const all = [...this.waiting.values()];
    this.waiting.clear();
    for (const { reject } of all) reject(error);
  }
}
