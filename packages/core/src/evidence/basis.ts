import { sendingChannel, type Air } from '../air/air';
import type { End, LinkRecord } from '../budget/plan';
import { feederLossDb } from '../gear/cable';
import type { Polarisation } from '../path/polarisation';
import type { Sheet } from '../pairing/sheet';

/** The settings of a sheet that decide what a radio sends and hears. */
export type SheetBasis = Pick<Sheet, 'centreMHz' | 'widthMHz' | 'protocol' | 'conductedDbm' | 'txMHz' | 'rxMHz'> & {
  revision: number;
};

/** What is true of one radio. */
export interface RadioBasis {
  modelId: string;
  modelRevision: number;
  latitudeDeg: number;
  longitudeDeg: number;
  groundHeightM: number;
  mountHeightM: number;
  polarisation: Polarisation;
  azimuthDeg: number | null;
  tiltDeg: number | null;
  conductedDbm: number;
  cableLossDb: number;
  sheet: SheetBasis | null;
}

/** What is true of a link: its air, and the radio at each end. One that tells of one radio leaves the rest out. */
export interface Basis {
  air?: Partial<Air> & { modulation?: string | null };
  shaft?: { leastM: number; mostM: number } | null;
  near?: RadioBasis;
  far?: RadioBasis;
  /** levels predicted at both ends, dBm; null where there was no prediction */
  expectedDbm?: Record<End, number> | null;
}

/** A record of a link with all that a fingerprint takes from it. */
export interface BasisRecord extends LinkRecord {
  near: BasisEnd;
  far: BasisEnd;
}

type BasisEnd = LinkRecord['near'] & {
  radio: { modelId: string; modelRevision: number };
  sheet: { revision: number; sheet: Sheet } | null;
};

/** The fingerprint of a link as it stands. */
export function basisOf(record: BasisRecord, expectedDbm: Record<End, number> | null): Basis {
  const { kind, centreMHz, returnMHz, widthMHz, protocol, errorCorrection } = record.air;
  const { pathKind, shaftLeastM, shaftMostM } = record.link;
  return {
    air: {
      kind,
      centreMHz,
      returnMHz,
      widthMHz,
      protocol,
      errorCorrection,
      // What a licence does not name is not kept: most airs have none.
      ...(kind === 'duplex' && { modulation: record.licence?.modulation ?? null }),
    },
    shaft: pathKind === 'shaft' ? { leastM: shaftLeastM ?? 0, mostM: shaftMostM ?? 0 } : null,
    near: radioBasisOf(record.near, record.air),
    far: radioBasisOf(record.far, record.air),
    expectedDbm,
  };
}

/** @param air that the radio sends on: what a cable loses depends on it */
export function radioBasisOf({ place, radio, sheet }: BasisEnd, air: Air): RadioBasis {
  return {
    modelId: radio.modelId,
    modelRevision: radio.modelRevision,
    latitudeDeg: place.latitudeDeg,
    longitudeDeg: place.longitudeDeg,
    groundHeightM: place.groundHeightM,
    mountHeightM: radio.mountHeightM,
    polarisation: radio.polarisation,
    azimuthDeg: radio.azimuthDeg,
    tiltDeg: radio.tiltDeg,
    conductedDbm: radio.conductedDbm,
    cableLossDb: rounded(feederLossDb(radio, sendingChannel(air, radio.role).centreMHz)),
    sheet: sheet && sheetBasisOf(sheet.revision, sheet.sheet),
  };
}

/** To hundredths: a channel beside it is no other cable. */
const rounded = (db: number): number => Math.round(db * 100) / 100;

function sheetBasisOf(revision: number, sheet: Sheet): SheetBasis {
  const { centreMHz, widthMHz, protocol, conductedDbm, txMHz, rxMHz } = sheet;
  return { revision, centreMHz, widthMHz, protocol, conductedDbm, txMHz, rxMHz };
}
