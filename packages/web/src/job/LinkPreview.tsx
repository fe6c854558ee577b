import type { Licence } from '@kivram/contract/entities/law';
import type { Obstacle } from '@kivram/contract/entities/obstacle';
import type { Place } from '@kivram/contract/entities/place';
import type { MapRadio } from '@kivram/contract/views/job';
import { airProblem, type AirRole } from '@kivram/core/air/air';
import type { RadioPlan } from '@kivram/core/budget/plan';
import { tryPredict } from '@kivram/core/budget/prediction';
import type { Model } from '@kivram/core/gear/model';
import { judgePath } from '@kivram/core/path/words';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import { useMemo } from 'react';
import { numberIn } from '../parts/NumberField';
import { Figure, Length } from '../parts/Figure';
import { Rate } from '../parts/Rate';
import { StateMark } from '../parts/StateMark';
import { useToday } from '../parts/useToday';
import { useProfile } from '../queries';
import { useSettings } from '../settings';
import { hubAzimuthDeg, positionOf } from './linkBody';
import { airOf, modelAt, nearOf, type EndForm, type LinkForm } from './linkForm';

interface PreviewProps {
  form: LinkForm;
  /** which of its links */
  index: number;
  models: readonly Model[];
  places: readonly Place[];
  radios: readonly MapRadio[];
  obstacles: readonly Obstacle[];
  law: RuleSet | null;
  licences: readonly Licence[];
  /** today at the server */
  day: string;
}

/** What a link will do, while it is typed. */
export function LinkPreview({ form, index, models, places, radios, obstacles, law, licences, day }: PreviewProps) {
  const { units } = useSettings();
  const nearEnd = nearOf(form, index);
  const hop = form.hops[index];
  const farEnd = hop?.far ?? nearEnd;
  const a = positionOf(nearEnd, { places, radios });
  const b = positionOf(farEnd, { places, radios });
  const ground = useProfile(a, b);
  const today = useToday();
  const prediction = useMemo(() => {
    const near = modelAt(nearEnd, models, radios);
    const far = modelAt(farEnd, models, radios);
    if (!a || !b || !near || !far || !hop) return null;
    const joined = radios.find((r) => r.id === form.near.radioId);
    const air = airOf(form, hop, joined, near.band === 'licensed');
    if (!air.centreMHz || !air.widthMHz || airProblem(air)) return null;
    const ends = {
      near: radioAt(
        nearEnd,
        a,
        near,
        ground?.groundM[0],
        radios,
        index === 0 ? hubAzimuthDeg(form, { places, radios }) : null,
        'access',
      ),
      far: radioAt(farEnd, b, far, ground?.groundM.at(-1), radios, null, 'station'),
    };
    if ([ends.near, ends.far].some((end) => Number.isNaN(end.mountHeightM) || Number.isNaN(end.conductedDbm)))
      return null;
    const shaft =
      form.shape === 'pair' && form.pathKind === 'shaft'
        ? { leastM: numberIn(form.shaftLeastM), mostM: numberIn(form.shaftMostM) }
        : null;
    const terrain = ground && { profile: ground, obstacles: [...obstacles], year: new Date(today).getFullYear() };
    const licence = licences.find((l) => l.id === air.licenceId) ?? null;
    return tryPredict({ ...ends, air, law, licence, day, terrain, shaft }).prediction;
  }, [form, index, models, radios, places, nearEnd, farEnd, hop, a, b, law, licences, day, ground, obstacles, today]);
  if (!prediction)
    return <p className="note">The prediction appears here once both places, both models and the channel are set.</p>;
  const verdict = prediction.path && judgePath(prediction.path, units);
  return (
    <p>
      <Length metres={prediction.distanceM} /> apart. Level near <Figure value={prediction.near.rslDbm} unit="dBm" />,
      far <Figure value={prediction.far.rslDbm} unit="dBm" />, margin{' '}
      <Figure value={Math.min(prediction.near.marginDb, prediction.far.marginDb)} unit="dB" signed />. TCP alone{' '}
      <Rate mbps={prediction.nearToFar.aloneMbps} /> near to far.{' '}
      {verdict && (
        <>
          Path <StateMark state={verdict.state} because={verdict.headline} />
        </>
      )}
    </p>
  );
}

/** A radio as the form has it, or as it is where it is there already. */
function radioAt(
  end: EndForm,
  position: Pick<Place, 'latitudeDeg' | 'longitudeDeg' | 'groundHeightM'>,
  model: Model,
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
    conductedDbm: there?.conductedDbm ?? numberIn(end.conductedDbm),
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
