import type { MapRadio } from '@kivram/contract/views/job';
import type { Air } from '@kivram/core/air/air';
import type { Model } from '@kivram/core/gear/model';
import { usualNeed } from '@kivram/core/need/activity';
import type { Protocol } from '@kivram/core/radio/kinds';
import { numberIn, type TypedNumber } from '../parts/NumberField';

/** One end of a new link as it is typed. */
export interface EndForm {
  placeId: string;
  /** a radio that is there already and takes the link; everything else is its own then */
  radioId: string;
  name: string;
  latitude: string;
  longitude: string;
  groundHeightM: TypedNumber;
  modelId: string;
  mountHeightM: TypedNumber;
  /** null: as `endPowerDbm` says */
  conductedDbm: TypedNumber;
  /** where a hub's antenna points for good; empty: between its stations */
  azimuthDeg: TypedNumber;
}

/** One link of a list: its far end, and what must cross. */
export interface HopForm {
  name: string;
  far: EndForm;
  needNearToFarMbps: TypedNumber;
  needFarToNearMbps: TypedNumber;
  /** of a chain whose relays have two radios: the channel of this hop */
  centreMHz: TypedNumber;
}

export const shapes = ['pair', 'hub', 'chain'] as const;
export type Shape = (typeof shapes)[number];

/** New links as they are typed; lengths in metres, whatever they are shown in. */
export interface LinkForm extends Record<string, unknown> {
  shape: Shape;
  /** radios at each relay of a chain */
  relayRadios: 'one' | 'two';
  pathKind: 'outdoor' | 'shaft';
  shaftLeastM: TypedNumber;
  shaftMostM: TypedNumber;
  near: EndForm;
  /** one for a pair, a station each for a hub, a hop each for a chain */
  hops: HopForm[];
  widthMHz: string;
  centreMHz: TypedNumber;
  /** licensed pairs: what the far end sends on */
  returnMHz: TypedNumber;
  errorCorrection: boolean;
  /** that a licensed pair is planned by; empty: none */
  licenceId: string;
  protocol: Protocol;
}

export const emptyEnd: EndForm = {
  placeId: '',
  radioId: '',
  name: '',
  latitude: '',
  longitude: '',
  groundHeightM: null,
  modelId: '',
  mountHeightM: 6,
  conductedDbm: null,
  azimuthDeg: null,
};

export const emptyHop: HopForm = {
  name: '',
  far: emptyEnd,
  needNearToFarMbps: null,
  needFarToNearMbps: null,
  centreMHz: '',
};

export const emptyLink: LinkForm = {
  shape: 'pair',
  relayRadios: 'one',
  pathKind: 'outdoor',
  shaftLeastM: 5,
  shaftMostM: 30,
  near: emptyEnd,
  hops: [emptyHop],
  widthMHz: '',
  centreMHz: '',
  returnMHz: null,
  errorCorrection: false,
  licenceId: '',
  protocol: '802.11',
};

/** What a hop must carry: as it was typed, and where nothing was, what is usual. */
export function hopNeed(
  hop: Pick<HopForm, 'needNearToFarMbps' | 'needFarToNearMbps'>,
  isLicensed: boolean,
): ReturnType<typeof usualNeed> {
  const usual = usualNeed(isLicensed);
  const typed = (value: TypedNumber, usualMbps: number): number => (value === null ? usualMbps : numberIn(value));
  return {
    nearToFarMbps: typed(hop.needNearToFarMbps, usual.nearToFarMbps),
    farToNearMbps: typed(hop.needFarToNearMbps, usual.farToNearMbps),
  };
}

/** A further station or hop: like the last one, at a place of its own. */
export function hopLike({ far, needNearToFarMbps, needFarToNearMbps }: HopForm): HopForm {
  const { modelId, mountHeightM, conductedDbm } = far;
  return {
    ...emptyHop,
    far: { ...emptyEnd, modelId, mountHeightM, conductedDbm },
    needNearToFarMbps,
    needFarToNearMbps,
  };
}

/** Whether each hop of the form is an air of its own. */
export function hasOwnAirs({ shape, relayRadios }: LinkForm): boolean {
  return shape === 'chain' && relayRadios === 'two';
}

/** The air that a hop of the form has; that of the radio that it joins where it joins one. */
export function airOf(form: LinkForm, hop: HopForm, joined: MapRadio | undefined, licensed: boolean): Air {
  if (joined) return joined.air;
  const kind = licensed
    ? 'duplex'
    : form.shape === 'hub'
      ? 'hub'
      : form.shape === 'chain' && !hasOwnAirs(form)
        ? 'chain'
        : 'pair';
  return {
    kind,
    centreMHz: asNumber(hasOwnAirs(form) ? hop.centreMHz : form.centreMHz),
    returnMHz: licensed ? asNumber(form.returnMHz) : null,
    widthMHz: Number(form.widthMHz),
    protocol: form.protocol,
    errorCorrection: licensed && form.errorCorrection,
    licenceId: licensed && form.licenceId ? form.licenceId : null,
  };
}

/** The end from which a hop goes out: the near one, or in a chain the far one of the hop before. */
export function nearOf(form: LinkForm, index: number): EndForm {
  return form.shape === 'chain' && index > 0 ? (form.hops[index - 1]?.far ?? form.near) : form.near;
}

/** The model at an end: that of the radio that is there, or the one chosen. */
export function modelAt(end: EndForm, models: readonly Model[], radios: readonly MapRadio[]): Model | undefined {
  const id = end.radioId ? radios.find((r) => r.id === end.radioId)?.modelId : end.modelId;
  return models.find((m) => m.id === id);
}

/** A number field that is empty is no zero; a channel that was chosen comes as text. */
export function asNumber(value: TypedNumber): number {
  return value === null || value === '' ? NaN : Number(value);
}
