import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Request, Response } from 'express';
import { LRUCache } from 'lru-cache';
import { ApiProblem } from './apiProblem';
import { Turns } from './turns';

/** A file as it was received. */
export interface Upload {
  path: string;
  bytes: number;
  sha256: string;
}

/** Files that are received at one time: a flood of them must not fill the disk. More wait, and whoever sends them with them. */
const atOnce = 4;
/** Of these one person has so many. */
const atOnceOfOne = 2;

/** A sender from whom nothing comes for so long has stopped, and keeps others waiting, ms. */
const longestStallMs = 10_000;

/** Bodies of requests that are files, in a folder that is this user's alone. What a killed server left there goes when the next one starts. */
export class Uploads {
  private readonly turns = new Turns(atOnce);
  private readonly own = new LRUCache<string, Turns>({ max: 1000 });

  private constructor(
    readonly folder: string,
    private readonly stallMs: number,
  ) {}

  /** @param folder where uploads may lie; left out, a new one among the temporary files of this machine @param stallMs how long nothing may come of a file */
  static async in(folder?: string, stallMs = longestStallMs): Promise<Uploads> {
    if (!folder) return new Uploads(await mkdtemp(join(tmpdir(), 'kivram-')), stallMs);
    await rm(folder, { recursive: true, force: true });
    await mkdir(folder, { recursive: true, mode: 0o700 });
    return new Uploads(folder, stallMs);
  }

  /**
   * Receives the body, hands it on, and removes it.
   * @param use gets a signal that aborts when whoever sends it goes away
   * @throws ApiProblem when it is empty or longer than may be
   */
  receive<T>(
    request: Request,
    mostMegabytes: number,
    use: (upload: Upload, signal: AbortSignal) => Promise<T>,
  ): Promise<T> {
    const gone = new AbortController();
    (request.res as Response).once('close', () => gone.abort());
    const run = async (): Promise<T> => {
      gone.signal.throwIfAborted();
      const path = join(this.folder, randomUUID());
      try {
        return await use(await this.store(request, path, mostMegabytes, gone.signal), gone.signal);
      } finally {
        await rm(path, { force: true });
      }
    };
    return this.turnsOf(request.who.personId ?? 'here').run(() => this.turns.run(run));
  }

  /** Whoever sends many files has their own wait, and leaves room for others. */
  private turnsOf(person: string): Turns {
    const turns = this.own.get(person) ?? new Turns(atOnceOfOne);
    this.own.set(person, turns);
    return turns;
  }

  async remove(): Promise<void> {
    await rm(this.folder, { recursive: true, force: true });
  }

  private async store(request: Request, path: string, mostMegabytes: number, signal: AbortSignal): Promise<Upload> {
    const hash = createHash('sha256');
    let bytes = 0;
    const stopped = new AbortController();
    const stop = (): void =>
      stopped.abort(
        new ApiProblem(
          408,
          'Nothing comes',
          `Nothing came of this file for ${this.stallMs / 1000} s, so it was given up. Send it again where the network is better.`,
        ),
      );
    const stall = setTimeout(stop, this.stallMs);
    const count = new Transform({
      transform(chunk: Buffer, _encoding, done) {
        stall.refresh();
        bytes += chunk.length;
        hash.update(chunk);
        if (bytes <= mostMegabytes * 1024 * 1024) done(null, chunk);
        else done(new ApiProblem(413, 'Too large', `The file is larger than ${mostMegabytes} MB. Cut it into pieces.`));
      },
    });
    try {
      await pipeline(request, count, createWriteStream(path, { mode: 0o600 }), {
        signal: AbortSignal.any([signal, stopped.signal]),
      });
    } catch (error) {
      // The pipeline says only that it was given up.
      throw stopped.signal.aborted ? (stopped.signal.reason as Error) : error;
    } finally {
      clearTimeout(stall);
    }
    if (!bytes) throw new ApiProblem(422, 'Not readable', 'The file is empty.');
    return { path, bytes, sha256: hash.digest('hex') };
  }
}
