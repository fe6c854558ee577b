import type { CableKind, CableRun } from '@kivram/core/gear/cable';

/** Frequencies of the table, MHz. */
const atMHz = [100, 400, 1000, 2400, 6000];

/** What a metre takes at each, dB: as cables of such sizes are measured, rounded. */
const dbPerM: Readonly<Record<CableKind, readonly number[]>> = {
  rg58: [0.16, 0.35, 0.68, 1.2, 2.35],
  rg213: [0.068, 0.144, 0.25, 0.43, 0.78],
  foam10: [0.043, 0.089, 0.142, 0.225, 0.365],
  hardline12: [0.022, 0.045, 0.073, 0.117, 0.195],
  hardline22: [0.012, 0.025, 0.041, 0.066, 0.11],
};

/** A good pair of plugs, whatever it is measured at, dB. */
const plugDb = 0.1;

/** What a wave loses between a stand-in's radio and its antenna: read off a table of its own, on the line through the two points of it that are nearest. */
export function coaxLossDb({ kind, lengthM, connectors }: CableRun, frequencyMHz: number): number {
  const above = atMHz.findIndex((f) => f >= frequencyMHz);
  const right = above < 0 ? atMHz.length - 1 : Math.max(1, above);
  const at = (i: number): [number, number] => [Math.log(atMHz[i] ?? NaN), Math.log(dbPerM[kind][i] ?? NaN)];
  const [[x0, y0], [x1, y1]] = [at(right - 1), at(right)];
  return lengthM * Math.exp(y0 + ((y1 - y0) * (Math.log(frequencyMHz) - x0)) / (x1 - x0)) + connectors * plugDb;
}
