import type { Place } from '@kivram/contract/entities/place';
import type { MapRadio } from '@kivram/contract/views/job';
import type { End } from '@kivram/core/budget/plan';
import { middleBearingDeg } from '@kivram/core/geodesy/bearing';
import { solveGeodesic } from '@kivram/core/geodesy/geodesic';
import { numberIn } from '../parts/NumberField';
import { asNumber, hasOwnAirs, hopNeed, nearOf, type EndForm, type LinkForm } from './linkForm';
import { typedPosition } from './typedPosition';

/** What a job has already, where links may join. */
export interface Known {
  places: readonly Place[];
  radios: readonly MapRadio[];
}

type Spot = Pick<Place, 'latitudeDeg' | 'longitudeDeg' | 'groundHeightM'>;

/** Where an end of the form is: at a place that is known, or as typed; null while it cannot be read. */
export function positionOf(end: EndForm, { places, radios }: Known): Spot | null {
  const placeId = end.radioId ? radios.find((r) => r.id === end.radioId)?.placeId : end.placeId;
  const known = places.find((p) => p.id === placeId);
  if (known) return known;
  const { position } = typedPosition(end.latitude, end.longitude);
  return position && { ...position, groundHeightM: numberIn(end.groundHeightM) || 0 };
}

/** Where a hub's antenna points: as typed, or between its stations; null where it has one, or they are not known yet. */
export function hubAzimuthDeg(form: LinkForm, known: Known): number | null {
  if (form.shape !== 'hub' || form.near.radioId) return null;
  if (form.near.azimuthDeg !== null) return asNumber(form.near.azimuthDeg);
  const hub = positionOf(form.near, known);
  const bearings = form.hops.flatMap((hop) => {
    const station = positionOf(hop.far, known);
    return hub && station ? [solveGeodesic(hub, station).azimuthDeg] : [];
  });
  return bearings.length > 1 ? Math.round(10 * middleBearingDeg(bearings)) / 10 : null;
}

/** The form as the request the contract knows, and what could not be read, by the fields of the form. */
export function toBody(
  form: LinkForm,
  known: Known,
  licensed: boolean,
  powerDbm: (index: number, end: End) => number,
): { body: { links: object[] }; errors: Record<string, string> } {
  const errors: Record<string, string> = {};
  const end = (e: EndForm, path: string, conductedDbm: number): object => {
    if (e.radioId) return { radioId: e.radioId };
    const common = {
      modelId: e.modelId,
      mountHeightM: asNumber(e.mountHeightM),
      conductedDbm,
    };
    if (!e.modelId) errors[`${path}.modelId`] = 'Choose a model';
    if (e.placeId) return { placeId: e.placeId, ...common };
    const typed = typedPosition(e.latitude, e.longitude);
    for (const [axis, message] of Object.entries(typed.errors)) errors[`${path}.${axis}`] = message;
    if (!e.name.trim()) errors[`${path}.name`] = 'The place needs a name';
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
  const near = (index: number): object => {
    if (index > 0 && form.shape === 'hub')
      return form.near.radioId ? end(form.near, 'near', powerDbm(0, 'near')) : { sameAs: { link: 0, end: 'near' } };
    if (index > 0 && !hasOwnAirs(form)) return { sameAs: { link: index - 1, end: 'far' } };
    const azimuthDeg = index === 0 ? hubAzimuthDeg(form, known) : null;
    const path = index === 0 ? 'near' : `hops.${index - 1}.far`;
    return { ...end(nearOf(form, index), path, powerDbm(index, 'near')), ...(azimuthDeg !== null && { azimuthDeg }) };
  };
  const joins = form.near.radioId !== '';
  if (!joins && !form.widthMHz) errors.widthMHz = 'Choose a width';
  if (!joins && !hasOwnAirs(form) && !form.centreMHz)
    errors.centreMHz = licensed ? 'Type the frequency of the licence' : 'Choose a channel';
  const links = form.hops.map((hop, i) => {
    if (!hop.name.trim()) errors[`hops.${i}.name`] = 'The link needs a name';
    if (hasOwnAirs(form) && !hop.centreMHz) errors[`hops.${i}.centreMHz`] = 'Choose a channel';
    // An end that joins a radio, here or of a link before, is on its air.
    const onAir = joins ? !hasOwnAirs(form) || i === 0 : i > 0 && !hasOwnAirs(form);
    const need = hopNeed(hop, licensed);
    return {
      name: hop.name.trim(),
      ...(form.shape === 'pair' &&
        form.pathKind === 'shaft' && {
          pathKind: form.pathKind,
          shaftLeastM: asNumber(form.shaftLeastM),
          shaftMostM: asNumber(form.shaftMostM),
        }),
      near: near(i),
      far: end(hop.far, `hops.${i}.far`, powerDbm(i, 'far')),
      ...(!onAir && {
        ...(!licensed && { airKind: hasOwnAirs(form) ? 'pair' : form.shape }),
        centreMHz: asNumber(hasOwnAirs(form) ? hop.centreMHz : form.centreMHz),
        ...(licensed && {
          returnMHz: asNumber(form.returnMHz),
          errorCorrection: form.errorCorrection,
          licenceId: form.licenceId || null,
        }),
        widthMHz: Number(form.widthMHz),
        protocol: form.protocol,
      }),
      needNearToFarMbps: need.nearToFarMbps,
      needFarToNearMbps: need.farToNearMbps,
    };
  });
  return { body: { links }, errors };
}

/** Fields of a link that the form has once for all of them. */
const ofTheAir = ['widthMHz', 'centreMHz', 'returnMHz', 'protocol', 'pathKind', 'shaftLeastM', 'shaftMostM'];

/** Where the form shows an error of the contract: a new place's fields lie one level higher, and near ends of later links are ends of earlier ones. */
export function toFormField(field: string): string {
  const [, index = '0', rest = ''] = /^links\.(\d+)\.(.*)$/.exec(field) ?? [];
  const flat = rest.replace('.place.', '.').replace('latitudeDeg', 'latitude').replace('longitudeDeg', 'longitude');
  if (ofTheAir.includes(flat)) return flat;
  if (flat.startsWith('near'))
    return Number(index) === 0 ? flat : `hops.${Number(index) - 1}.${flat.replace('near', 'far')}`;
  return `hops.${index}.${flat}`;
}
