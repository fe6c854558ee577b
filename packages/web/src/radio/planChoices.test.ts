import type { LinkView } from '@kivram/contract/views/link';
import { describe, expect, it } from 'vitest';
import { PlanChoices } from '@kivram/contract/entities/alternative';
import { check } from '@kivram/contract/validate';
import { choicesOf, draftWith } from './planChoices';
import { draftOf, type PlanDraft } from './planDraft';

const radio = (modelId: string) => ({
  modelId,
  mountHeightM: 8,
  conductedDbm: 10,
  cableLossDb: 0,
  cable: null,
  aimOffDeg: 0,
  interferenceDb: 0,
  polarisation: 'dual',
});
const view = {
  link: { needNearToFarMbps: 50, needFarToNearMbps: 20, wantedMarginDb: 10 },
  air: { centreMHz: 5775, returnMHz: null, widthMHz: 80, protocol: '802.11', errorCorrection: false, licenceId: null },
  licences: [],
  near: { radio: radio('pane') },
  far: { radio: radio('span') },
} as unknown as LinkView;

describe('a plan that is kept', () => {
  const tried: PlanDraft = {
    ...draftOf(view),
    nearCableKind: 'rg213',
    nearCableLengthM: 7.5,
    nearConnectors: 3,
    farModelId: 'mite',
    farMountHeightM: 12,
    widthMHz: 40,
    rainMmPerH: 90,
    treeYears: 5,
  };

  it('comes back as it was tried', () => {
    expect(draftWith(view, choicesOf(tried))).toEqual(tried);
    expect(draftWith(view, JSON.parse(JSON.stringify(choicesOf(tried))) as PlanChoices)).toEqual(tried);
  });

  it('is what the server takes, and a field without a number is not', () => {
    expect(check(PlanChoices, choicesOf(tried)).errors).toBeUndefined();
    const [error] = check(PlanChoices, choicesOf({ ...tried, nearConductedDbm: 'ten' })).errors ?? [];
    expect(error).toEqual({ field: 'near.conductedDbm', message: 'power is no number' });
  });
});
