import type { LinkView } from '@kivram/contract/views/link';
import type { Model } from '@kivram/core/gear/model';
import { parseNumber } from '@kivram/core/units/number';
import { describe, expect, it } from 'vitest';
import { draftBody, draftChanged, draftErrors, draftOf, draftPlan, isTrying, type PlanDraft } from './planDraft';

const end = (role: string, version: number) => ({
  radio: {
    role,
    version,
    mountHeightM: 8,
    conductedDbm: 10,
    modelId: 'pane',
    cableLossDb: 0,
    cable: null,
    aimOffDeg: 0,
    interferenceDb: 0,
    polarisation: 'dual',
    azimuthDeg: null,
    tiltDeg: null,
  },
  place: { latitudeDeg: 33, longitudeDeg: -37, groundHeightM: 3 },
  model: { name: 'Pane' },
});
const view = {
  link: { version: 4, needNearToFarMbps: 50, needFarToNearMbps: 20, wantedMarginDb: 10, pathKind: 'outdoor' },
  air: { version: 2, centreMHz: 5775, returnMHz: null, widthMHz: 80, protocol: '802.11', errorCorrection: false },
  near: end('access', 7),
  far: end('station', 9),
  law: null,
  licences: [],
  terrain: null,
  climate: { class: null, rainMmPerH: null },
  othersLoad: 0,
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
    expect(draftPlan(view, draft({ nearCableLossDb: 2.5, nearPolarisation: 'horizontal' }), [])?.near).toMatchObject({
      cableLossDb: 2.5,
      polarisation: 'horizontal',
    });
    for (const nothing of [null, 'ten']) expect(draftPlan(view, draft({ nearConductedDbm: nothing }), [])).toBeNull();
  });

  it('tries other gear, a cable, heights, rain and older trees, and saves but the last two', () => {
    const gear = { id: 'other', name: 'Other' } as unknown as Model;
    const tried = draft({
      nearModelId: 'other',
      farMountHeightM: 12,
      farCableKind: 'rg213',
      farCableLengthM: 8,
      rainMmPerH: 90,
      treeYears: 5,
    });
    const plan = draftPlan(view, tried, [gear]);
    expect(plan?.near.model).toBe(gear);
    expect(plan?.far).toMatchObject({ mountHeightM: 12, cable: { kind: 'rg213', lengthM: 8, connectors: 2 } });
    expect(plan?.climate).toEqual({ class: null, rainMmPerH: 90 });
    expect(draftPlan(view, draft({ nearModelId: 'gone' }), [gear])).toBeNull();
    expect(JSON.parse(JSON.stringify(draftBody(view, tried)))).toEqual({
      version: 4,
      near: { version: 7, modelId: 'other' },
      far: { version: 9, mountHeightM: 12, cable: { kind: 'rg213', lengthM: 8, connectors: 2 } },
    });
    const sky = draft({ rainMmPerH: 90, treeYears: 5 });
    expect(draftChanged(view, sky)).toBe(false);
    expect(isTrying(view, sky)).toBe(true);
    // A length without a cable is nothing to be saved.
    expect(JSON.parse(JSON.stringify(draftBody(view, draft({ nearCableLengthM: 4 }))))).toEqual({ version: 4 });
  });

  it('says at its own field what is wrong', () => {
    expect(draftErrors(view, draft())).toEqual({});
    expect(draftErrors(view, draft({ farCableLossDb: 99, needNearToFarMbps: null, centreMHz: 5 }))).toEqual({
      farCableLossDb: 'cable loss is 99: it must be a number from 0 to 30 dB',
      needNearToFarMbps: 'need near to far is missing: it must be a number from 0 to 100000 Mbit/s',
      centreMHz: 'channel is 5: it must be a number from 100 to 100000 MHz',
    });
  });

  // The field says what cannot be read, the plan what cannot be.
  it.each([
    ['needNearToFarMbps', '-5', 'from 0 to 100000 Mbit/s'],
    ['needNearToFarMbps', '', 'need near to far is missing'],
    ['needNearToFarMbps', '1,234', 'could be 1234 or 1.234'],
    ['needNearToFarMbps', 'many', '"many" is no number'],
    ['nearConductedDbm', '61', 'from −20 to 60 dBm'],
    ['wantedMarginDb', '90', 'from 0 to 60 dB'],
    ['nearCableLossDb', '-1', 'from 0 to 30 dB'],
    ['nearCableLossDb', '', 'cable loss is missing'],
  ] as const)('%s typed as "%s"', (field, text, words) => {
    const said = (): string | undefined => {
      try {
        return draftErrors(view, draft({ [field]: parseNumber(text) }))[field];
      } catch (error) {
        return (error as Error).message;
      }
    };
    expect(said()).toContain(words);
  });
});
