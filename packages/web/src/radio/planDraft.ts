import { check, LinkPlanBody, type FieldError, type LinkView } from '@kivram/contract';
import { planOf, type LinkPlan, type Polarisation, type Protocol } from '@kivram/core';
import { numberIn, type TypedNumber } from '../parts/NumberField';

/** What the radio screen edits, flat: of the air, of both radios, of the link. Numbers are held as they are typed. */
export interface PlanDraft {
  centreMHz: TypedNumber;
  returnMHz: TypedNumber;
  widthMHz: number;
  protocol: Protocol;
  errorCorrection: boolean;
  nearConductedDbm: TypedNumber;
  farConductedDbm: TypedNumber;
  nearCableLossDb: TypedNumber;
  farCableLossDb: TypedNumber;
  nearPolarisation: Polarisation;
  farPolarisation: Polarisation;
  needNearToFarMbps: TypedNumber;
  needFarToNearMbps: TypedNumber;
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
    nearPolarisation: near.radio.polarisation,
    farPolarisation: far.radio.polarisation,
    needNearToFarMbps: link.needNearToFarMbps,
    needFarToNearMbps: link.needFarToNearMbps,
  };
}

export function draftChanged(view: LinkView, draft: PlanDraft): boolean {
  const stored = draftOf(view);
  return (Object.keys(draft) as (keyof PlanDraft)[]).some((key) => draft[key] !== stored[key]);
}

/** The plan with what is being tried; null while a field holds no number. */
export function draftPlan(view: LinkView, draft: PlanDraft): LinkPlan | null {
  const plan = planOf(view);
  const { widthMHz, protocol, errorCorrection } = draft;
  const centreMHz = numberIn(draft.centreMHz);
  const returnMHz = plan.air.returnMHz === null ? null : numberIn(draft.returnMHz);
  const end = (side: 'near' | 'far') => ({
    ...plan[side],
    conductedDbm: numberIn(draft[`${side}ConductedDbm`]),
    cableLossDb: numberIn(draft[`${side}CableLossDb`]),
    polarisation: draft[`${side}Polarisation`],
  });
  const [near, far] = [end('near'), end('far')];
  const all = [centreMHz, returnMHz ?? 0, near.conductedDbm, near.cableLossDb, far.conductedDbm, far.cableLossDb];
  if (all.some(Number.isNaN)) return null;
  return { ...plan, air: { ...plan.air, centreMHz, returnMHz, widthMHz, protocol, errorCorrection }, near, far };
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
  const radio = (side: 'near' | 'far'): Record<string, unknown> =>
    changed({
      conductedDbm: `${side}ConductedDbm`,
      cableLossDb: `${side}CableLossDb`,
      polarisation: `${side}Polarisation`,
    });
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
    near: part(near.radio.version, radio('near')),
    far: part(far.radio.version, radio('far')),
  };
}

/** What keeps a draft from being stored, by the draft's own fields. */
export type DraftErrors = Partial<Record<keyof PlanDraft, string>>;

export function draftErrors(view: LinkView, draft: PlanDraft): DraftErrors {
  const errors: FieldError[] = check(LinkPlanBody, draftBody(view, draft)).errors ?? [];
  return Object.fromEntries(errors.map(({ field, message }) => [draftField(field), message]));
}

/** "near.conductedDbm" is `nearConductedDbm` in the draft, "air.centreMHz" is `centreMHz`. */
function draftField(field: string): string {
  const [part = '', name] = field.split('.');
  if (!name) return part;
  return part === 'air' ? name : part + name.charAt(0).toUpperCase() + name.slice(1);
}
