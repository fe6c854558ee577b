import type { Place } from '@kivram/contract';
import { numberIn } from '../parts/NumberField';
import { asNumber, type EndForm, type LinkForm } from './linkForm';
import { typedPosition } from './typedPosition';

/** Where an end of the form is: at a place that is known, or as typed; null while it cannot be read. */
export function positionOf(
  end: EndForm,
  places: Place[],
): Pick<Place, 'latitudeDeg' | 'longitudeDeg' | 'groundHeightM'> | null {
  const known = places.find((p) => p.id === end.placeId);
  if (known) return known;
  const { position } = typedPosition(end.latitude, end.longitude);
  return position && { ...position, groundHeightM: numberIn(end.groundHeightM) || 0 };
}

/** The form as the request the contract knows, and what could not be read. */
export function toBody(form: LinkForm, licensed: boolean): { body: object; errors: Record<string, string> } {
  const errors: Record<string, string> = {};
  const end = (key: 'near' | 'far'): object => {
    const e = form[key];
    const common = {
      modelId: e.modelId,
      mountHeightM: asNumber(e.mountHeightM),
      conductedDbm: asNumber(e.conductedDbm),
    };
    if (!e.modelId) errors[`${key}.modelId`] = 'Choose a model';
    if (e.placeId) return { placeId: e.placeId, ...common };
    const typed = typedPosition(e.latitude, e.longitude);
    for (const [axis, message] of Object.entries(typed.errors)) errors[`${key}.${axis}`] = message;
    if (!e.name.trim()) errors[`${key}.name`] = 'The place needs a name';
    return {
      place: {
        name: e.name.trim(),
        // Where it could not be read, its own words above keep the form from being sent.
        ...(typed.position ?? { latitudeDeg: 0, longitudeDeg: 0 }),
        ...(e.groundHeightM !== null && { groundHeightM: asNumber(e.groundHeightM) }),
      },
      ...common,
    };
  };
  if (!form.widthMHz) errors.widthMHz = 'Choose a width';
  if (!form.centreMHz) errors.centreMHz = licensed ? 'Type the frequency of the licence' : 'Choose a channel';
  if (!form.name.trim()) errors.name = 'The link needs a name';
  const body = {
    name: form.name.trim(),
    ...(form.pathKind === 'shaft' && {
      pathKind: form.pathKind,
      shaftLeastM: asNumber(form.shaftLeastM),
      shaftMostM: asNumber(form.shaftMostM),
    }),
    near: end('near'),
    far: end('far'),
    centreMHz: asNumber(form.centreMHz),
    ...(licensed && { returnMHz: asNumber(form.returnMHz), errorCorrection: form.errorCorrection }),
    widthMHz: Number(form.widthMHz),
    protocol: form.protocol,
    needNearToFarMbps: asNumber(form.needNearToFarMbps),
    needFarToNearMbps: asNumber(form.needFarToNearMbps),
  };
  return { body, errors };
}

/** Where the form shows an error of the contract: a new place's fields lie one level higher. */
export function toFormField(field: string): string {
  return field.replace('.place.', '.').replace('latitudeDeg', 'latitude').replace('longitudeDeg', 'longitude');
}
