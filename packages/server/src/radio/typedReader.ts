import type { LevelWay } from '@kivram/core/aiming/levelWay';
import { nothingNew, type LevelReading, type RadioReader } from './reader';

/** Levels that a person brings: one after the other as they are typed, or afterwards as a table, of which nothing is known until then. */
export class TypedReader implements RadioReader {
  readonly trouble = null;
  private typed: (number | null)[] = [];
  private last: number | null = null;

  constructor(readonly way: Extract<LevelWay, 'typed' | 'table'>) {}

  get waiting(): number {
    return this.typed.length;
  }

  tell(rslDbm: number | null): void {
    this.typed.push(rslDbm);
  }

  /** What a table ended with: it goes on being shown, and is no new reading. */
  hold(rslDbm: number | null): void {
    this.last = rslDbm;
  }

  read(): Promise<LevelReading> {
    const next = this.typed.shift();
    if (next === undefined) return Promise.resolve({ ...nothingNew, rslDbm: this.last });
    this.last = next;
    return Promise.resolve({ ...nothingNew, rslDbm: next, isRepeat: false });
  }

  close(): void {
    this.typed = [];
  }
}
