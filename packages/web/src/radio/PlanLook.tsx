import type { LinksOnAirView, LinkView } from '@kivram/contract/views/link';
import type { AirPrediction } from '@kivram/core/budget/airPrediction';
import type { LinkPlan } from '@kivram/core/budget/plan';
import type { PowerSharer } from '@kivram/core/budget/power';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import type { Model } from '@kivram/core/gear/model';
import { lazy, Suspense } from 'react';
import { useSeen } from '../parts/useSeen';
import { Choices } from './Choices';
import { Levels } from './Levels';
import type { DraftErrors, PlanDraft } from './planDraft';
import { WeatherChoices } from './WeatherChoices';

const Consequences = lazy(async () => ({ default: (await import('./Consequences')).Consequences }));

/** After which what lies below comes whether anybody looked there or not. */
const patienceMs = 2000;

interface Props {
  view: LinkView;
  draft: PlanDraft;
  set<Key extends keyof PlanDraft>(key: Key): (value: PlanDraft[Key]) => void;
  errors: DraftErrors;
  models: readonly Model[];
  plan: LinkPlan | null;
  /** the same without the rain that falls now */
  dryPlan: LinkPlan | null;
  /** of a shared air, once it is read */
  air: AirPrediction | null;
  onAir: LinksOnAirView | undefined;
  /** the others that go through a radio of this link */
  sharers: readonly PowerSharer[];
  prediction: LinkPrediction | null;
  /** of the plan in place, where something else is tried */
  before: LinkPrediction | null;
  wantedDb: number;
  take?: (powers: { near: number; far: number }) => void;
}

/** What is chosen at both ends, what the weather does, and all that follows. What lies below comes after what is seen first. */
export function PlanLook({ plan, dryPlan, air, onAir, sharers, prediction, before, ...props }: Props) {
  const { view, draft, set, errors, models, wantedDb, take } = props;
  const [below, isSeen] = useSeen(patienceMs);
  return (
    <>
      <Choices draft={draft} set={set} errors={errors} view={view} models={models} />
      <WeatherChoices draft={draft} set={set} errors={errors} view={view} />
      {plan && prediction && <Levels plan={plan} prediction={prediction} before={before} />}
      <div ref={below} className="radio-below">
        {plan && dryPlan && prediction && (isSeen || before) && (
          <Suspense>
            <Consequences
              view={view}
              plan={plan}
              dryPlan={dryPlan}
              air={air}
              onAir={onAir}
              sharers={sharers}
              prediction={prediction}
              before={before}
              draft={draft}
              wantedDb={wantedDb}
              take={take}
            />
          </Suspense>
        )}
      </div>
    </>
  );
}
