/** Limits and powers that differ by less are the same: a database keeps them in hundredths, and no meter tells them apart, dB. */
export const sameDb = 0.05;
