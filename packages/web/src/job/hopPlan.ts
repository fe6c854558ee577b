import type { Place } from '@kivram/contract/entities/place';
import type { MapRadio } from '@kivram/contract/views/job';
import { airProblem, type AirRole } from '@kivram/core/air/air';
import { licenceFacts } from '@kivram/core/budget/licenceFacts';
import type { LinkPlan, PathTerrain, RadioPlan } from '@kivram/core/budget/plan';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import type { Model } from '@kivram/core/gear/model';
import type { RadioFacts } from '@kivram/core/verdict/steps';
import { numberIn } from '../parts/NumberField';
import { endPowerDbm, type PowerSurroundings } from './endPower';
import { hubAzimuthDeg, positionOf } from './linkBody';
import { airOf, emptyHop, hopNeed, modelAt, nearOf, type EndForm, type LinkForm } from './linkForm';

/** What a form of new links is planned among. */
export interface HopSurroundings extends PowerSurroundings {
  places: readonly Place[];
}

/** The plan of one link of the form; null while something that it takes is not typed. */
export function hopPlan(
  form: LinkForm,
  index: number,
  around: HopSurroundings,
  terrain: PathTerrain | null,
): LinkPlan | null {
  const { models, places, radios, law, licences, day } = around;
  const [nearEnd, hop] = [nearOf(form, index), form.hops[index]];
  const farEnd = hop?.far ?? nearEnd;
  const a = positionOf(nearEnd, { places, radios });
  const b = positionOf(farEnd, { places, radios });
  const near = modelAt(nearEnd, models, radios);
  const far = modelAt(farEnd, models, radios);
  if (!a || !b || !near || !far || !hop) return null;
  const joined = radios.find((r) => r.id === form.near.radioId);
  const air = airOf(form, hop, joined, near.band === 'licensed');
  if (!air.centreMHz || !air.widthMHz || airProblem(air)) return null;
  const azimuthDeg = index === 0 ? hubAzimuthDeg(form, { places, radios }) : null;
  const groundM = terrain?.profile.groundM;
  const ends = {
    near: radioAt(
      nearEnd,
      a,
      near,
      endPowerDbm(form, index, 'near', around),
      groundM?.[0],
      radios,
      azimuthDeg,
      'access',
    ),
    far: radioAt(farEnd, b, far, endPowerDbm(form, index, 'far', around), groundM?.at(-1), radios, null, 'station'),
  };
  if ([ends.near, ends.far].some((end) => Number.isNaN(end.mountHeightM) || Number.isNaN(end.conductedDbm)))
    return null;
  const shaft =
    form.shape === 'pair' && form.pathKind === 'shaft'
      ? { leastM: numberIn(form.shaftLeastM), mostM: numberIn(form.shaftMostM) }
      : null;
  const licence = licences.find((l) => l.id === air.licenceId) ?? null;
  return { ...ends, air, law, licence, day, terrain, shaft };
}

/** What a link of the form is judged by. Others on its air are not reckoned yet. */
export function hopFacts(
  form: LinkForm,
  index: number,
  plan: LinkPlan,
  prediction: LinkPrediction | null,
  places: readonly Place[],
): RadioFacts {
  const hop = form.hops[index];
  const need = hopNeed(hop ?? emptyHop, plan.near.model.band === 'licensed');
  const end = (typed: EndForm | undefined, side: 'near' | 'far') => ({
    place: {
      id: typed?.placeId ?? '',
      name: places.find((place) => place.id === typed?.placeId)?.name ?? (typed?.name || 'a new place'),
    },
    radio: plan[side],
    model: plan[side].model,
  });
  return {
    prediction,
    need: { nearToFar: need.nearToFarMbps || 0, farToNear: need.farToNearMbps || 0 },
    shared: null,
    fade: null,
    licence: licenceFacts({
      air: plan.air,
      licence: plan.licence ?? null,
      day: plan.day,
      near: end(nearOf(form, index), 'near'),
      far: end(hop?.far, 'far'),
    }),
  };
}

/** A radio as the form has it, or as it is where it is there already. */
function radioAt(
  end: EndForm,
  position: Pick<Place, 'latitudeDeg' | 'longitudeDeg' | 'groundHeightM'>,
  model: Model,
  conductedDbm: number,
  terrainM: number | null | undefined,
  radios: readonly MapRadio[],
  azimuthDeg: number | null,
  role: AirRole,
): RadioPlan {
  const there = radios.find((r) => r.id === end.radioId);
  return {
    position,
    groundHeightM: there || end.placeId || end.groundHeightM !== null ? position.groundHeightM : (terrainM ?? 0),
    mountHeightM: there?.mountHeightM ?? numberIn(end.mountHeightM),
    model,
    conductedDbm: there?.conductedDbm ?? conductedDbm,
    cableLossDb: 0,
    cable: null,
    aimOffDeg: 0,
    interferenceDb: 0,
    polarisation: 'dual',
    role,
    azimuthDeg: there ? there.azimuthDeg : azimuthDeg,
    tiltDeg: there?.tiltDeg ?? null,
  };
}
