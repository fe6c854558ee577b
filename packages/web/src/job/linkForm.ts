import type { Air, Protocol } from '@kivram/core';
import type { TypedNumber } from '../parts/NumberField';

/** One end of a new link as it is typed. */
export interface EndForm {
  placeId: string;
  name: string;
  latitude: string;
  longitude: string;
  groundHeightM: TypedNumber;
  modelId: string;
  mountHeightM: TypedNumber;
  conductedDbm: TypedNumber;
}

/** A new link as it is typed; lengths in metres, whatever they are shown in. */
export interface LinkForm extends Record<string, unknown> {
  name: string;
  pathKind: 'outdoor' | 'shaft';
  shaftLeastM: TypedNumber;
  shaftMostM: TypedNumber;
  near: EndForm;
  far: EndForm;
  widthMHz: string;
  centreMHz: TypedNumber;
  /** licensed pairs: what the far end sends on */
  returnMHz: TypedNumber;
  errorCorrection: boolean;
  protocol: Protocol;
  needNearToFarMbps: TypedNumber;
  needFarToNearMbps: TypedNumber;
}

export const emptyEnd: EndForm = {
  placeId: '',
  name: '',
  latitude: '',
  longitude: '',
  groundHeightM: null,
  modelId: '',
  mountHeightM: 6,
  conductedDbm: 10,
};

/** The air that the form describes. */
export function airOf(form: LinkForm, licensed: boolean): Air {
  return {
    kind: licensed ? 'duplex' : 'pair',
    centreMHz: asNumber(form.centreMHz),
    returnMHz: licensed ? asNumber(form.returnMHz) : null,
    widthMHz: Number(form.widthMHz),
    protocol: form.protocol,
    errorCorrection: licensed && form.errorCorrection,
  };
}

/** A number field that is empty is no zero; a channel that was chosen comes as text. */
export function asNumber(value: TypedNumber): number {
  return value === null || value === '' ? NaN : Number(value);
}
