import type { Licence } from '@kivram/contract/entities/law';
import type { LinkView } from '@kivram/contract/views/link';
import { describe, expect, it } from 'vitest';
import { draftByLicence } from './licensedDraft';
import { draftOf, draftPlan } from './planDraft';

const end = (role: string) => ({
  radio: {
    role,
    version: 1,
    mountHeightM: 8,
    conductedDbm: 36,
    modelId: 'thread',
    cableLossDb: 1,
    cable: null,
    aimOffDeg: 0,
    interferenceDb: 0,
    polarisation: 'vertical',
    azimuthDeg: null,
    tiltDeg: null,
  },
  place: { id: role, latitudeDeg: 33, longitudeDeg: -37, groundHeightM: 3 },
  model: { name: 'Thread', antennaGainDbi: 9, widthsMHz: [0.0125, 0.025] },
});
const licence = (changes: Partial<Licence> = {}): Licence => ({
  id: 'a',
  version: 1,
  number: 'A 1',
  holder: '',
  centreMHz: 456.1,
  returnMHz: 461.1,
  widthMHz: 0.025,
  occupiedMHz: 0.016,
  mostEirpDbm: 40,
  modulation: '16-QAM',
  validFrom: null,
  validUntil: '2027-05-31',
  lowPlaceId: null,
  highPlaceId: null,
  terms: '',
  ...changes,
});
const other = licence({ id: 'b', number: 'B 2', centreMHz: 457.5, returnMHz: 462.5, modulation: null });
const view = {
  link: { version: 1, needNearToFarMbps: 0, needFarToNearMbps: 0, wantedMarginDb: 10, pathKind: 'outdoor' },
  air: {
    kind: 'duplex',
    version: 1,
    centreMHz: 450,
    returnMHz: 455,
    widthMHz: 0.0125,
    protocol: 'duplex',
    errorCorrection: false,
    licenceId: null,
  },
  day: '2026-06-15',
  near: end('access'),
  far: end('station'),
  law: null,
  licence: null,
  licences: [licence(), other],
  terrain: null,
  climate: { class: null, rainMmPerH: null },
  othersLoad: 0,
} as unknown as LinkView;
const draft = draftOf(view);
const gear = { near: view.near.model, far: view.far.model };

describe('a licensed pair planned by a licence', () => {
  it('takes its frequencies and spacing, and no more power than it allows', () => {
    const next = draftByLicence(view, draft, licence(), gear);
    expect(next).toMatchObject({ centreMHz: 456.1, returnMHz: 461.1, widthMHz: 0.025 });
    // 36 dBm less 1 dB of cable and 9 dBi are 44 dBm: 4 dB too many.
    expect([next.nearConductedDbm, next.farConductedDbm]).toEqual([32, 32]);
    const allowed = draftByLicence(view, draft, licence({ mostEirpDbm: 50 }), gear);
    expect(allowed.nearConductedDbm).toBe(36);
  });

  it('goes by the gear that is tried', () => {
    const tried = { ...view.near.model, id: 'other', antennaGainDbi: 12, widthsMHz: [0.0125] };
    const next = draftByLicence(view, { ...draft, nearModelId: 'other', farModelId: 'other' }, licence(), {
      near: tried,
      far: tried,
    });
    expect(next).toMatchObject({ widthMHz: 0.0125, nearConductedDbm: 29, farConductedDbm: 29 });
  });

  it('keeps a spacing that its radios do not have the other of', () => {
    expect(draftByLicence(view, draft, licence({ widthMHz: 0.05 }), gear).widthMHz).toBe(0.0125);
  });

  it('is held against the licence that is chosen, whatever others cover', () => {
    expect(draftPlan(view, draft, [])?.licence).toBeNull();
    const next = draftByLicence(view, draft, licence(), gear);
    expect(next.licenceId).toBe('a');
    expect(draftPlan(view, next, [])?.licence).toMatchObject({ modulation: '16-QAM' });
    const typed = { ...next, centreMHz: 462.5, returnMHz: 457.5 };
    expect(draftPlan(view, typed, [])?.licence).toMatchObject({ number: 'A 1' });
    expect(draftPlan(view, { ...next, returnMHz: 'none' }, [])).toBeNull();
  });

  it('lets each place send what it is licensed for', () => {
    const sent = (changes: Partial<Licence>) => {
      const { centreMHz, returnMHz } = draftByLicence(view, draft, licence(changes), gear);
      return [centreMHz, returnMHz];
    };
    expect(sent({ lowPlaceId: 'access' })).toEqual([456.1, 461.1]);
    expect(sent({ highPlaceId: 'access' })).toEqual([461.1, 456.1]);
    expect(sent({ lowPlaceId: 'station' })).toEqual([461.1, 456.1]);
    expect(sent({ lowPlaceId: 'elsewhere', centreMHz: 461.1, returnMHz: 456.1 })).toEqual([461.1, 456.1]);
  });
});
