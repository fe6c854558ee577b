import type { Reading } from '@kivram/core';

/** How a link's radios are read. The stand-in implements it; another source of readings is another implementation. */
export interface RadioReader {
  /** Both ends' readings of this moment. `tS` is the caller's clock. */
  read(tS: number): Reading[];
}

/** Where the readers come from. */
export interface RadioReaders {
  readerOf(linkId: string): Promise<RadioReader>;
}
