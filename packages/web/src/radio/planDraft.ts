import type { LinkView } from '@kivram/contract';
import { planOf, type LinkPlan, type Protocol } from '@kivram/core';

/** What the radio screen edits, flat: of the air, of both radios, of the link. */
export interface PlanDraft {
  centreMHz: number;
  returnMHz: number | null;
  widthMHz: number;
  protocol: Protocol;
  errorCorrection: boolean;
  nearConductedDbm: number;
  farConductedDbm: number;
  nearCableLossDb: number;
  farCableLossDb: number;
  needNearToFarMbps: number;
  needFarToNearMbps: number;
}

export function draftOf({ link, air, near, far }: LinkView): PlanDraft {
  return {
    centreMHz: air.centreMHz,
    returnMHz: air.returnMHz,
    widthMHz: air.widthMHz,
    protocol: air.protocol,
    errorCorrection: air.errorCorrection,
    nearConductedDbm: near.radio.conductedDbm,
    farConductedDbm: far.radio.conductedDbm,
    nearCableLossDb: near.radio.cableLossDb,
    farCableLossDb: far.radio.cableLossDb,
    needNearToFarMbps: link.needNearToFarMbps,
    needFarToNearMbps: link.needFarToNearMbps,
  };
}

export function draftChanged(view: LinkView, draft: PlanDraft): boolean {
  const stored = draftOf(view);
  return (Object.keys(draft) as (keyof PlanDraft)[]).some((key) => draft[key] !== stored[key]);
}

/** The plan with what is being tried. */
export function draftPlan(view: LinkView, draft: PlanDraft): LinkPlan {
  const plan = planOf(view);
  const { centreMHz, returnMHz, widthMHz, protocol, errorCorrection } = draft;
  return {
    ...plan,
    air: { ...plan.air, centreMHz, returnMHz, widthMHz, protocol, errorCorrection },
    near: { ...plan.near, conductedDbm: draft.nearConductedDbm, cableLossDb: draft.nearCableLossDb },
    far: { ...plan.far, conductedDbm: draft.farConductedDbm, cableLossDb: draft.farCableLossDb },
  };
}

/** The request that stores a draft: only what it changes, each part with the version it was based on. */
export function draftBody(view: LinkView, draft: PlanDraft): object {
  const stored = draftOf(view);
  const changed = (fields: Partial<Record<string, keyof PlanDraft>>): Record<string, unknown> =>
    Object.fromEntries(
      Object.entries(fields).flatMap(([name, key]) =>
        key && draft[key] !== stored[key] ? [[name, draft[key]] as const] : [],
      ),
    );
  const part = (version: number, fields: Record<string, unknown>): object | undefined =>
    Object.keys(fields).length ? { version, ...fields } : undefined;
  const { link, air, near, far } = view;
  return {
    version: link.version,
    ...changed({ needNearToFarMbps: 'needNearToFarMbps', needFarToNearMbps: 'needFarToNearMbps' }),
    air: part(
      air.version,
      changed({
        centreMHz: 'centreMHz',
        returnMHz: 'returnMHz',
        widthMHz: 'widthMHz',
        protocol: 'protocol',
        errorCorrection: 'errorCorrection',
      }),
    ),
    near: part(near.radio.version, changed({ conductedDbm: 'nearConductedDbm', cableLossDb: 'nearCableLossDb' })),
    far: part(far.radio.version, changed({ conductedDbm: 'farConductedDbm', cableLossDb: 'farCableLossDb' })),
  };
}
