import { requireRange } from '../propagation/range';

/** Coaxial cables between a radio and an antenna of its own, by what is printed on them or by their size. */
export const cableKinds = ['rg58', 'rg213', 'foam10', 'hardline12', 'hardline22'] as const;
export type CableKind = (typeof cableKinds)[number];

interface CableData {
  words: string;
  /** dB in 100 m: skin * sqrt(MHz) + dielectric * MHz */
  skin: number;
  dielectric: number;
  source: string;
}

/**
 * Losses through two points of a table each: 10 and 1000 MHz of the ARRL Antenna Book's table of common lines (22nd edition, chapter 23, from memory) for the cables that have
 * a name there, the usual figures of such sizes for the others.
 */
export const cables: Readonly<Record<CableKind, CableData>> = {
  rg58: { words: 'RG-58, 5 mm', ...through([10, 4.59], [1000, 70.5]), source: 'ARRL Antenna Book, from memory' },
  rg213: { words: 'RG-213, 10 mm', ...through([10, 1.97], [1000, 26.2]), source: 'ARRL Antenna Book, from memory' },
  foam10: { words: 'foam, 10 mm', ...through([50, 2.95], [2500, 22.2]), source: 'common practice, no source' },
  hardline12: {
    words: 'corrugated, 1/2 inch',
    ...through([100, 2.2], [2400, 11.7]),
    source: 'common practice, no source',
  },
  hardline22: {
    words: 'corrugated, 7/8 inch',
    ...through([100, 1.2], [2400, 6.6]),
    source: 'common practice, no source',
  },
};

/** The two parts of a loss from two points of (MHz, dB in 100 m). */
function through([f1, db1]: [number, number], [f2, db2]: [number, number]): Pick<CableData, 'skin' | 'dielectric'> {
  const root = Math.sqrt(f2 / f1);
  const dielectric = (db2 - db1 * root) / (f2 - f1 * root);
  return { dielectric, skin: (db1 - dielectric * f1) / Math.sqrt(f1) };
}

/** A run of cable with its plugs. */
export interface CableRun {
  kind: CableKind;
  lengthM: number;
  /** pairs of plug and socket on the way, those at its ends among them */
  connectors: number;
}

/** @throws RangeError for a length below 0 */
export function cableRunLossDb({ kind, lengthM }: Pick<CableRun, 'kind' | 'lengthM'>, frequencyMHz: number): number {
  requireRange('A length of cable', lengthM, 0, Infinity, 'm');
  const { skin, dielectric } = cables[kind];
  return (lengthM / 100) * (skin * Math.sqrt(frequencyMHz) + dielectric * frequencyMHz);
}

/** A pair of type N takes 0.05 sqrt(GHz) dB, the insertion loss that MIL-PRF-39012 allows it (0.15 dB at 9 GHz); from memory. */
export function connectorsLossDb(pairs: number, frequencyMHz: number): number {
  return pairs * 0.05 * Math.sqrt(frequencyMHz / 1000);
}

/** What lies between radio and antenna: a loss that was typed, and a run of cable. */
export interface Feeder {
  cableLossDb: number;
  cable: CableRun | null;
}

/** All that is lost between radio and antenna on one frequency, dB. */
export function feederLossDb({ cableLossDb, cable }: Feeder, frequencyMHz: number): number {
  if (!cable) return cableLossDb;
  return cableLossDb + cableRunLossDb(cable, frequencyMHz) + connectorsLossDb(cable.connectors, frequencyMHz);
}
