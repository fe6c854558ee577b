import { statfs } from 'node:fs/promises';

/** Below this room is told to be short, and below that nothing more is promised to be kept, bytes. */
const shortBytes = 500e6;
const fullBytes = 30e6;

/** What is to be said of the room on a disk, in words; null where there is enough. */
export interface DiskState {
  /** nothing can be kept any more */
  trouble: string | null;
  /** soon */
  warning: string | null;
}

/** @param folder any that lies on it; one that cannot be looked at says nothing */
export async function diskAt(folder: string): Promise<DiskState> {
  const free = await statfs(folder).then(
    ({ bavail, bsize }) => bavail * bsize,
    () => Infinity,
  );
  return diskState(free);
}

/** @param freeBytes that a program without root's rights may still write */
export function diskState(freeBytes: number): DiskState {
  const left = `${Math.floor(freeBytes / 1e6)} MB`;
  if (freeBytes < fullBytes)
    return {
      trouble: `The disk of the computer that Kivram runs on is full (${left} left): nothing can be saved. Free some space there: Kivram then goes on by itself.`,
      warning: null,
    };
  if (freeBytes < shortBytes)
    return {
      trouble: null,
      warning: `The disk of the computer that Kivram runs on is nearly full: ${left} left. Free some space there before it fills up.`,
    };
  return { trouble: null, warning: null };
}
