/** What a finished peak turns out to be. */
export const diagnoses = [
  'clear',
  'sideLobe',
  'crossedPolarisation',
  'obstructed',
  'stronger',
  'otherEnd', // short, because of what is wrong at the other end
  'unswept', // short, and nothing but the level is known
  'unsearched', // far short, and nobody looked beside the lobe: a side lobe looks the same
  'unknown',
] as const;
export type Diagnosis = (typeof diagnoses)[number];
