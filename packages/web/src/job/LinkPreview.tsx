import type { Obstacle, Place } from '@kivram/contract';
import { airProblem, judgePath, tryPredict, type Model, type RadioPlan, type RuleSet } from '@kivram/core';
import { useMemo } from 'react';
import { Figure, Length } from '../parts/Figure';
import { Rate } from '../parts/Rate';
import { StateMark } from '../parts/StateMark';
import { numberIn } from '../parts/NumberField';
import { useProfile } from '../queries';
import { useSettings } from '../settings';
import { positionOf } from './linkBody';
import { airOf, type EndForm, type LinkForm } from './linkForm';

interface PreviewProps {
  form: LinkForm;
  near: Model | undefined;
  far: Model | undefined;
  places: Place[];
  obstacles: Obstacle[];
  law: RuleSet | null;
}

/** What the link will do, while it is typed. */
export function LinkPreview({ form, near, far, places, obstacles, law }: PreviewProps) {
  const { units } = useSettings();
  const a = positionOf(form.near, places);
  const b = positionOf(form.far, places);
  const ground = useProfile(a, b);
  const prediction = useMemo(() => {
    const air = airOf(form, near?.band === 'licensed');
    const typed = [form.near, form.far].flatMap((e) => [numberIn(e.mountHeightM), numberIn(e.conductedDbm)]);
    if (!a || !b || !near || !far || !air.centreMHz || !air.widthMHz || airProblem(air) || typed.some(Number.isNaN))
      return null;
    const end = (
      e: EndForm,
      position: Pick<Place, 'latitudeDeg' | 'longitudeDeg' | 'groundHeightM'>,
      model: Model,
      terrainM: number | null | undefined,
      role: RadioPlan['role'],
    ): RadioPlan => ({
      position,
      groundHeightM: e.placeId || e.groundHeightM !== null ? position.groundHeightM : (terrainM ?? 0),
      mountHeightM: numberIn(e.mountHeightM),
      model,
      conductedDbm: numberIn(e.conductedDbm),
      cableLossDb: 0,
      polarisation: 'dual',
      role,
      azimuthDeg: null,
      tiltDeg: null,
    });
    return tryPredict({
      near: end(form.near, a, near, ground?.groundM[0], 'access'),
      far: end(form.far, b, far, ground?.groundM.at(-1), 'station'),
      air,
      law,
      terrain: ground && { profile: ground, obstacles, year: new Date().getFullYear() },
      shaft:
        form.pathKind === 'shaft' ? { leastM: numberIn(form.shaftLeastM), mostM: numberIn(form.shaftMostM) } : null,
    }).prediction;
  }, [form, near, far, a, b, law, ground, obstacles]);
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
