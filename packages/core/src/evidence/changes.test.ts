import { describe, expect, it } from 'vitest';
import { basisOf, type Basis, type BasisRecord } from './basis';
import { changedSince } from './changes';
import { modelOf, airOf } from '../../test/plans';
import type { Sheet } from '../pairing/sheet';

const sheet = { centreMHz: 5775, widthMHz: 80, protocol: '802.11', conductedDbm: 11 } as Sheet;
const end = (latitudeDeg: number) => ({
  place: { latitudeDeg, longitudeDeg: -37.84, groundHeightM: 5 },
  radio: {
    modelId: 'm',
    modelRevision: 1,
    mountHeightM: 10,
    polarisation: 'dual' as const,
    role: 'access' as const,
    conductedDbm: 11,
    cableLossDb: 0,
    cable: null,
    aimOffDeg: 0,
    interferenceDb: 0,
    azimuthDeg: null,
    tiltDeg: null,
  },
  model: modelOf(),
  sheet: { revision: 1, sheet },
});
const record: BasisRecord = {
  link: { pathKind: 'outdoor', shaftLeastM: null, shaftMostM: null, needNearToFarMbps: 1, needFarToNearMbps: 1 },
  air: airOf({ centreMHz: 5775, widthMHz: 80 }),
  near: end(33.41),
  far: end(33.42),
  law: null,
  licence: null,
  day: '2026-06-15',
  terrain: null,
  climate: { class: null, rainMmPerH: null },
};
const then = basisOf(record, { near: -50, far: -51 });

/** A later fingerprint, with one thing changed. */
const later = (change: (basis: Basis) => void): Basis => {
  const copy = JSON.parse(JSON.stringify(then)) as Basis;
  change(copy);
  return copy;
};

describe('what has changed since something was proven', () => {
  it('is nothing while nothing has', () => {
    for (const step of ['bench', 'mount', 'aim', 'prove'] as const) expect(changedSince(step, then, then)).toEqual([]);
  });

  it('a channel and a width: pairing, level and throughput, but no mount', () => {
    const now = later(({ air }) => air && Object.assign(air, { centreMHz: 5550, widthMHz: 40 }));
    for (const step of ['bench', 'aim', 'prove'] as const) {
      expect(changedSince(step, then, now)).toEqual(['channel 5775 to 5550 MHz', 'width 80 to 40 MHz']);
    }
    expect(changedSince('mount', then, now)).toEqual([]);
  });

  it("the licence's modulation, where it was kept", () => {
    const kept = (modulation: string | null) => later(({ air }) => air && Object.assign(air, { modulation }));
    expect(changedSince('prove', kept('16-QAM'), kept('256-QAM'))).toEqual([
      'fastest modulation of the licence 16-QAM to 256-QAM',
    ]);
    expect(changedSince('prove', kept('16-QAM'), kept(null))).toEqual([
      'fastest modulation of the licence 16-QAM to none',
    ]);
    expect(changedSince('mount', kept('16-QAM'), kept(null))).toEqual([]);
    expect(changedSince('prove', then, kept('16-QAM'))).toEqual([]);
  });

  it('a protocol, in words', () => {
    const now = later(({ air, near }) => {
      if (air) air.protocol = 'slots';
      if (near?.sheet) near.sheet.protocol = 'slots';
    });
    expect(changedSince('prove', then, now)).toEqual([
      'protocol 802.11 to time slots',
      'near protocol in the settings 802.11 to time slots',
    ]);
  });

  it('a place that moved 470 m: everything but the bench', () => {
    const now = later(({ far }) => far && Object.assign(far, { latitudeDeg: 33.42 + 0.47 / 110.92 }));
    for (const step of ['mount', 'aim', 'prove'] as const)
      expect(changedSince(step, then, now)).toEqual(['far place moved 470 m']);
    expect(changedSince('bench', then, now)).toEqual([]);
  });

  it('a power turned down to 0 dBm: everything but the mount', () => {
    const now = later(({ near }) => near && Object.assign(near, { conductedDbm: 0 }));
    for (const step of ['bench', 'aim', 'prove'] as const)
      expect(changedSince(step, then, now)).toEqual(['near power 11 to 0 dBm']);
    expect(changedSince('mount', then, now)).toEqual([]);
  });

  it('settings saved again: the bench; the level only where they send or hear otherwise', () => {
    const renamed = later(({ near }) => near?.sheet && Object.assign(near.sheet, { revision: 2 }));
    expect(changedSince('bench', then, renamed)).toEqual(['near settings']);
    expect(changedSince('prove', then, renamed)).toEqual([]);
    const quieter = later(({ near }) => near?.sheet && Object.assign(near.sheet, { revision: 2, conductedDbm: 3 }));
    expect(changedSince('aim', then, quieter)).toEqual(['near power in the settings 11 to 3 dBm']);
  });

  it('a model, or a new revision of its spec sheet', () => {
    const swapped = later(({ near }) => near && Object.assign(near, { modelId: 'other', modelRevision: 3 }));
    expect(changedSince('mount', then, swapped)).toEqual(['near model']);
    const revised = later(({ near }) => near && Object.assign(near, { modelRevision: 2 }));
    expect(changedSince('bench', then, revised)).toEqual(['near spec sheet of the model']);
  });

  it('a prediction that drifted, and not one that grew by half a decibel of leaves', () => {
    const drifted = (far: number) => later((basis) => (basis.expectedDbm = { near: -50, far }));
    expect(changedSince('aim', then, drifted(-51.6))).toEqual([]);
    expect(changedSince('aim', then, drifted(-54))).toEqual(['level predicted at the far end -51.0 to -54.0 dBm']);
    expect(changedSince('bench', then, drifted(-54))).toEqual([]);
  });

  it('a position told more exactly is the same position', () => {
    const now = later(({ far }) => far && Object.assign(far, { latitudeDeg: 33.420005 }));
    expect(changedSince('aim', then, now)).toEqual([]);
  });
});
