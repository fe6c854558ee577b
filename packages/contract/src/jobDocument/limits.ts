/** What a file of a job may hold at most. */
export const jobFileLimits = {
  megabytes: 2000,
  /** readings are counted apart: they are many and small */
  readings: 3_000_000,
  /** values other than in readings, and the characters of their texts */
  values: 1_500_000,
  characters: 60_000_000,
  links: 10_000,
  photos: 5000,
  /** pictures as they are kept; a third longer in the file */
  photoMegabytes: 1000,
} as const;

/** What the file of one test may hold: an hour of ten streams, with an interval a second. It is read and kept by itself. */
export const testFileLimits = { values: 1_000_000, depth: 20 } as const;
