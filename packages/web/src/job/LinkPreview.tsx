import type { Licence } from '@kivram/contract/entities/law';
import type { Obstacle } from '@kivram/contract/entities/obstacle';
import type { Place } from '@kivram/contract/entities/place';
import type { MapRadio } from '@kivram/contract/views/job';
import { tryPredict } from '@kivram/core/budget/prediction';
import type { Model } from '@kivram/core/gear/model';
import { judgePath } from '@kivram/core/path/words';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import { judgeRadio } from '@kivram/core/verdict/steps';
import { useMemo } from 'react';
import { Figure, Length } from '../parts/Figure';
import { Rate } from '../parts/Rate';
import { StateMark } from '../parts/StateMark';
import { useToday } from '../parts/useToday';
import { useProfile } from '../queries';
import { useSettings } from '../settings';
import { hopFacts, hopPlan } from './hopPlan';
import { positionOf } from './linkBody';
import { nearOf, type LinkForm } from './linkForm';

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
  const judged = useMemo(() => {
    const terrain = ground && { profile: ground, obstacles: [...obstacles], year: new Date(today).getFullYear() };
    const plan = hopPlan(form, index, { models, places, radios, law, licences, day }, terrain);
    const prediction = plan && tryPredict(plan).prediction;
    if (!plan || !prediction) return null;
    return { prediction, radio: judgeRadio(hopFacts(form, index, plan, prediction, places)) };
  }, [form, index, models, radios, places, law, licences, day, ground, obstacles, today]);
  if (!judged)
    return <p className="note">The prediction appears here once both places, both models and the channel are set.</p>;
  const { prediction, radio } = judged;
  const verdict = prediction.path && judgePath(prediction.path, units);
  return (
    <p>
      <Length metres={prediction.distanceM} /> apart. Level near <Figure value={prediction.near.rslDbm} unit="dBm" />,
      far <Figure value={prediction.far.rslDbm} unit="dBm" />, margin{' '}
      <Figure value={Math.min(prediction.near.marginDb, prediction.far.marginDb)} unit="dB" signed />. TCP alone{' '}
      <Rate mbps={prediction.nearToFar.aloneMbps} /> near to far. Radio{' '}
      <StateMark state={radio.state} because={radio.because} />.{' '}
      {verdict && (
        <>
          Path <StateMark state={verdict.state} because={verdict.headline} />
        </>
      )}
    </p>
  );
}
