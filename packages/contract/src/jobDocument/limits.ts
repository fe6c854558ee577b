/** What a file of a job may hold at most. */
export const jobFileLimits = {
  megabytes: 500,
  /** readings are counted apart: they are many and small */
  readings: 3_000_000,
  /** values other than in readings, and the characters of their texts */
  values: 1_500_000,
  characters: 60_000_000,
  links: 10_000,
  photos: 5000,
} as const;
