import type { FieldError } from '@kivram/contract/problem';
import { LinkPlanBody } from '@kivram/contract/requests/plan';
import { check } from '@kivram/contract/validate';
import type { LinkView } from '@kivram/contract/views/link';
import { ends, planOf, type End, type LinkPlan } from '@kivram/core/budget/plan';
import type { CableKind } from '@kivram/core/gear/cable';
import type { Model } from '@kivram/core/gear/model';
import type { Polarisation } from '@kivram/core/path/polarisation';
import type { Protocol } from '@kivram/core/radio/kinds';
import { numberIn, type TypedNumber } from '../parts/NumberField';

/** What is tried at one end, by the name of its field there. */
interface EndDraft {
  ModelId: string;
  MountHeightM: TypedNumber;
  ConductedDbm: TypedNumber;
  CableLossDb: TypedNumber;
  CableKind: CableKind | 'none';
  CableLengthM: TypedNumber;
  Connectors: TypedNumber;
  AimOffDeg: TypedNumber;
  InterferenceDb: TypedNumber;
  Polarisation: Polarisation;
}

type BothEnds = { [Key in keyof EndDraft as `${End}${Key}`]: EndDraft[Key] };

/** What the radio screen tries, flat: of the air, of both radios, of the link, and of weather and time. Numbers are held as they are typed. */
export interface PlanDraft extends BothEnds {
  centreMHz: TypedNumber;
  returnMHz: TypedNumber;
  widthMHz: number;
  protocol: Protocol;
  errorCorrection: boolean;
  /** of a licensed pair; null: none is chosen */
  licenceId: string | null;
  needNearToFarMbps: TypedNumber;
  needFarToNearMbps: TypedNumber;
  wantedMarginDb: TypedNumber;
  /** instead of the job's; null: the job's. Nothing of a link, so it is not saved with it */
  rainMmPerH: TypedNumber;
  /** rain that falls while one looks; nothing of a link */
  rainNowMmPerH: TypedNumber;
  /** years that trees grow from now on; nothing of a link either */
  treeYears: TypedNumber;
}

/** What belongs to the year or the sky and not to the link. */
export const weatherKeys = ['rainMmPerH', 'rainNowMmPerH', 'treeYears'] as const satisfies readonly (keyof PlanDraft)[];

export function draftOf({ link, air, near, far }: LinkView): PlanDraft {
  return {
    centreMHz: air.centreMHz,
    returnMHz: air.returnMHz,
    widthMHz: air.widthMHz,
    protocol: air.protocol,
    errorCorrection: air.errorCorrection,
    licenceId: air.licenceId,
    ...endDraft('near', near),
    ...endDraft('far', far),
    needNearToFarMbps: link.needNearToFarMbps,
    needFarToNearMbps: link.needFarToNearMbps,
    wantedMarginDb: link.wantedMarginDb,
    rainMmPerH: null,
    rainNowMmPerH: 0,
    treeYears: 0,
  } as PlanDraft;
}

function endDraft(side: End, { radio }: LinkView[End]): Partial<PlanDraft> {
  const fields: EndDraft = {
    ModelId: radio.modelId,
    MountHeightM: radio.mountHeightM,
    ConductedDbm: radio.conductedDbm,
    CableLossDb: radio.cableLossDb,
    CableKind: radio.cable?.kind ?? 'none',
    CableLengthM: radio.cable?.lengthM ?? 0,
    Connectors: radio.cable?.connectors ?? 2,
    AimOffDeg: radio.aimOffDeg,
    InterferenceDb: radio.interferenceDb,
    Polarisation: radio.polarisation,
  };
  return Object.fromEntries(Object.entries(fields).map(([key, value]) => [side + key, value]));
}

/** Whether something is tried that saving would keep. */
export function draftChanged(view: LinkView, draft: PlanDraft): boolean {
  return changedKeys(view, draft).some((key) => !(weatherKeys as readonly string[]).includes(key));
}

/** Whether anything is tried. */
export function isTrying(view: LinkView, draft: PlanDraft): boolean {
  return changedKeys(view, draft).length > 0;
}

function changedKeys(view: LinkView, draft: PlanDraft): (keyof PlanDraft)[] {
  const stored = draftOf(view);
  return (Object.keys(stored) as (keyof PlanDraft)[]).filter((key) => draft[key] !== stored[key]);
}

/** The plan with what is being tried; null while a field holds no number, or names gear that is not there. */
export function draftPlan(view: LinkView, draft: PlanDraft, models: readonly Model[]): LinkPlan | null {
  const plan = planOf(view);
  const { widthMHz, protocol, errorCorrection, licenceId, rainMmPerH } = draft;
  const centreMHz = numberIn(draft.centreMHz);
  const returnMHz = plan.air.returnMHz === null ? null : numberIn(draft.returnMHz);
  const end = (side: End) => {
    const kind = draft[`${side}CableKind`];
    return {
      ...plan[side],
      model: modelFor(view[side], draft[`${side}ModelId`], models),
      mountHeightM: numberIn(draft[`${side}MountHeightM`]),
      conductedDbm: numberIn(draft[`${side}ConductedDbm`]),
      cableLossDb: numberIn(draft[`${side}CableLossDb`]),
      cable: kind === 'none' ? null : { kind, ...cableNumbers(draft, side) },
      aimOffDeg: numberIn(draft[`${side}AimOffDeg`]),
      interferenceDb: numberIn(draft[`${side}InterferenceDb`]),
      polarisation: draft[`${side}Polarisation`],
    };
  };
  const [near, far] = [end('near'), end('far')];
  const need = {
    nearToFarMbps: numberIn(draft.needNearToFarMbps),
    farToNearMbps: numberIn(draft.needFarToNearMbps),
    othersLoad: view.othersLoad,
  };
  const treeYears = numberIn(draft.treeYears);
  const rain = rainMmPerH === null ? (plan.climate?.rainMmPerH ?? null) : numberIn(rainMmPerH);
  const numbers = [
    ...[near, far].flatMap((e) => [e.mountHeightM, e.conductedDbm, e.cableLossDb, e.aimOffDeg, e.interferenceDb]),
    ...[near, far].flatMap((e) => [e.cable?.lengthM ?? 0, e.cable?.connectors ?? 0]),
    ...[centreMHz, returnMHz ?? 0, need.nearToFarMbps, need.farToNearMbps, treeYears, rain ?? 0],
  ];
  if (numbers.some(Number.isNaN) || !near.model || !far.model) return null;
  return {
    ...plan,
    air: { ...plan.air, centreMHz, returnMHz, widthMHz, protocol, errorCorrection, licenceId },
    licence: view.licences.find((l) => l.id === licenceId) ?? null,
    near: { ...near, model: near.model },
    far: { ...far, model: far.model },
    need,
    climate: { class: plan.climate?.class ?? null, rainMmPerH: rain },
    rainNowMmPerH: numberIn(draft.rainNowMmPerH) || 0,
    terrain: plan.terrain && treeYears ? { ...plan.terrain, year: plan.terrain.year + treeYears } : plan.terrain,
  };
}

function cableNumbers(draft: PlanDraft, side: End): { lengthM: number; connectors: number } {
  return { lengthM: numberIn(draft[`${side}CableLengthM`]), connectors: numberIn(draft[`${side}Connectors`]) };
}

/** A radio keeps the revision it was planned with until it gets other gear. */
export function modelFor(end: LinkView[End], modelId: string, models: readonly Model[]): Model | undefined {
  return modelId === end.radio.modelId ? end.model : models.find((m) => m.id === modelId);
}

/** The request that stores a draft: only what it changes, each part with the version it was based on. */
export function draftBody(view: LinkView, draft: PlanDraft): object {
  const changed = new Set(changedKeys(view, draft));
  const taken = (fields: Partial<Record<string, keyof PlanDraft>>): Record<string, unknown> =>
    Object.fromEntries(
      Object.entries(fields).flatMap(([name, key]) => (key && changed.has(key) ? [[name, draft[key]] as const] : [])),
    );
  const part = (version: number, fields: Record<string, unknown>): object | undefined =>
    Object.keys(fields).length ? { version, ...fields } : undefined;
  const { link, air, near, far } = view;
  const radio = (side: End): Record<string, unknown> => {
    const kind = draft[`${side}CableKind`];
    const isCable = (['CableKind', 'CableLengthM', 'Connectors'] as const).some((key) => changed.has(`${side}${key}`));
    const isMeant = kind !== 'none' || view[side].radio.cable !== null;
    return {
      ...taken({
        modelId: `${side}ModelId`,
        mountHeightM: `${side}MountHeightM`,
        conductedDbm: `${side}ConductedDbm`,
        cableLossDb: `${side}CableLossDb`,
        aimOffDeg: `${side}AimOffDeg`,
        interferenceDb: `${side}InterferenceDb`,
        polarisation: `${side}Polarisation`,
      }),
      ...(isCable &&
        isMeant && {
          cable:
            kind === 'none'
              ? null
              : { kind, lengthM: draft[`${side}CableLengthM`], connectors: draft[`${side}Connectors`] },
        }),
    };
  };
  return {
    version: link.version,
    ...taken({
      needNearToFarMbps: 'needNearToFarMbps',
      needFarToNearMbps: 'needFarToNearMbps',
      wantedMarginDb: 'wantedMarginDb',
    }),
    air: part(
      air.version,
      taken({
        centreMHz: 'centreMHz',
        returnMHz: 'returnMHz',
        widthMHz: 'widthMHz',
        protocol: 'protocol',
        errorCorrection: 'errorCorrection',
        licenceId: 'licenceId',
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
  const own: DraftErrors = Object.fromEntries(errors.map(({ field, message }) => [draftField(field), message]));
  for (const side of ends) {
    // What is not in the body is not checked there.
    if (draft[`${side}CableKind`] !== 'none' && Number.isNaN(numberIn(draft[`${side}CableLengthM`])))
      own[`${side}CableLengthM`] ??= 'how long is the cable?';
  }
  for (const key of weatherKeys)
    if (draft[key] !== null && !(numberIn(draft[key]) >= 0)) own[key] = 'a number from 0 on';
  return own;
}

/** "near.conductedDbm" is `nearConductedDbm` in the draft, "air.centreMHz" is `centreMHz`, "near.cable.lengthM" is `nearCableLengthM`. */
function draftField(field: string): string {
  const [part = '', name, inner] = field.split('.');
  if (!name) return part;
  if (part === 'air') return name;
  const capital = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1);
  if (name !== 'cable') return part + capital(name);
  return part + (inner === 'connectors' ? 'Connectors' : inner === 'lengthM' ? 'CableLengthM' : 'CableKind');
}
