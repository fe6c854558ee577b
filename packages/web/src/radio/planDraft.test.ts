import type { LinkView } from '@kivram/contract';
import { describe, expect, it } from 'vitest';
import { draftBody, draftChanged, draftErrors, draftOf, draftPlan, type PlanDraft } from './planDraft';

const end = (role: string, version: number) => ({
  radio: {
    role,
    version,
    mountHeightM: 8,
    conductedDbm: 10,
    cableLossDb: 0,
    polarisation: 'dual',
    azimuthDeg: null,
    tiltDeg: null,
  },
  place: { latitudeDeg: 33, longitudeDeg: -37, groundHeightM: 3 },
  model: { name: 'Pane' },
});
const view = {
  link: { version: 4, needNearToFarMbps: 50, needFarToNearMbps: 20, pathKind: 'outdoor' },
  air: { version: 2, centreMHz: 5775, returnMHz: null, widthMHz: 80, protocol: '802.11', errorCorrection: false },
  near: end('access', 7),
  far: end('station', 9),
  law: null,
  terrain: null,
} as unknown as LinkView;
const draft = (changes: Partial<PlanDraft> = {}): PlanDraft => ({ ...draftOf(view), ...changes });

describe('a radio plan that is being tried', () => {
  it('is what is stored until something is typed', () => {
    expect(draftChanged(view, draft())).toBe(false);
    expect(draftChanged(view, draft({ nearConductedDbm: 11 }))).toBe(true);
  });

  it('sends only what it changes, each part with the version it was based on', () => {
    const body = draftBody(view, draft({ nearConductedDbm: 11, farPolarisation: 'vertical', needFarToNearMbps: 30 }));
    expect(JSON.parse(JSON.stringify(body))).toEqual({
      version: 4,
      needFarToNearMbps: 30,
      near: { version: 7, conductedDbm: 11 },
      far: { version: 9, polarisation: 'vertical' },
    });
  });

  it('is computed with what is tried, and not at all while a field holds no number', () => {
    expect(draftPlan(view, draft({ nearCableLossDb: 2.5, nearPolarisation: 'horizontal' }))?.near).toMatchObject({
      cableLossDb: 2.5,
      polarisation: 'horizontal',
    });
    for (const nothing of [null, 'ten']) expect(draftPlan(view, draft({ nearConductedDbm: nothing }))).toBeNull();
  });

  it('says at its own field what is wrong', () => {
    expect(draftErrors(view, draft())).toEqual({});
    expect(draftErrors(view, draft({ farCableLossDb: 99, needNearToFarMbps: null, centreMHz: 5 }))).toEqual({
      farCableLossDb: 'cable loss is 99: it must be a number from 0 to 30 dB',
      needNearToFarMbps: 'need near to far is missing: it must be a number from 0 to 100000 Mbit/s',
      centreMHz: 'channel is 5: it must be a number from 100 to 100000 MHz',
    });
  });
});
