import type { LevelWay } from '@kivram/core/aiming/levelWay';
import type { Reading } from '@kivram/core/aiming/reading';

/** What a radio says of another at one moment, without the end and the time that the caller knows. */
export type LevelReading = Omit<Reading, 'end' | 'tS'>;

/** One radio as it is read: what it hears of its peer now. The stand-in implements it, and so does each way in which a real radio is read. */
export interface RadioReader {
  readonly way: LevelWay;
  /** why nothing new comes, in words; null while it does */
  readonly trouble: string | null;
  /** @param tS seconds since reading began, by the caller's clock */
  read(tS: number): Promise<LevelReading>;
  /** Takes a level that somebody read off the radio; only where levels are typed. */
  tell?(rslDbm: number | null): void;
  /** Shows a level that came otherwise, as nothing new. */
  hold?(rslDbm: number | null): void;
  /** Levels that were told and not read yet; only where levels are typed. */
  readonly waiting?: number;
  /** Nothing is read any more. */
  close(): void;
}

/** Where the readers come from. */
export interface RadioReaders {
  /** how many seconds pass for the radios in one of ours: 1, but for stand-ins whose clock is turned faster */
  readonly clockSpeed: number;
  readerOf(radioId: string, peerId: string, linkId: string): Promise<RadioReader>;
}

/** A reading of a radio that said nothing. */
export const nothingHeard: LevelReading = {
  rslDbm: null,
  chainsDbm: [],
  phoneAzimuthDeg: null,
  phoneTiltDeg: null,
};

/** Nothing was said since the reading before: that is no silence of the radio. */
export const nothingNew: LevelReading = { ...nothingHeard, isRepeat: true };

/** A radio that does not answer within this time has said nothing. */
export const readTimeoutMs = 250;

/** Reads a radio within a time limit. A radio that fails or is slow has said nothing, and holds nobody else up. */
export async function readInTime(reader: RadioReader, tS: number): Promise<LevelReading> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<LevelReading>((resolve) => {
    timer = setTimeout(() => resolve(nothingHeard), readTimeoutMs);
  });
  try {
    return await Promise.race([reader.read(tS), late]);
  } catch {
    return nothingHeard;
  } finally {
    clearTimeout(timer);
  }
}
