import type { LinkView } from '@kivram/contract';
import { shareAir, type Direction, type LinkPlan, type LinkPrediction, type Model } from '@kivram/core';
import { lazy, Suspense } from 'react';
import { numberIn } from '../parts/NumberField';
import { useSeen } from '../parts/useSeen';
import { Choices } from './Choices';
import { Ledger } from './Ledger';
import { Levels } from './Levels';
import { draftChanged, type DraftErrors, type PlanDraft } from './planDraft';
import { Rates } from './Rates';
import { WeatherChoices } from './WeatherChoices';

/** Below what is seen first: they come when somebody looks there. */
const Power = lazy(async () => ({ default: (await import('./Power')).Power }));
const Year = lazy(async () => ({ default: (await import('./Year')).Year }));

interface Props {
  view: LinkView;
  draft: PlanDraft;
  set<Key extends keyof PlanDraft>(key: Key): (value: PlanDraft[Key]) => void;
  errors: DraftErrors;
  models: readonly Model[];
  plan: LinkPlan | null;
  prediction: LinkPrediction | null;
  before: LinkPrediction | null;
  wantedDb: number;
  take?: (powers: { near: number; far: number }) => void;
}

/** What is chosen at both ends, what the weather does, and all that follows. */
export function PlanLook({ view, draft, set, errors, models, plan, prediction, before, wantedDb, take }: Props) {
  return (
    <>
      <Choices draft={draft} set={set} errors={errors} view={view} models={models} />
      <WeatherChoices draft={draft} set={set} errors={errors} view={view} />
      {plan && prediction && (
        <Consequences
          view={view}
          plan={plan}
          prediction={prediction}
          before={before}
          draft={draft}
          wantedDb={wantedDb}
          take={take}
        />
      )}
    </>
  );
}

/** All that follows from a plan. */
function Consequences({
  view,
  plan,
  prediction,
  before,
  draft,
  wantedDb,
  take,
}: {
  view: LinkView;
  plan: LinkPlan;
  prediction: LinkPrediction;
  before: LinkPrediction | null;
  draft: PlanDraft;
  wantedDb: number;
  take?: (powers: { near: number; far: number }) => void;
}) {
  const { near, far } = view;
  const [below, isSeen] = useSeen();
  return (
    <div className="radio-follows">
      <Levels plan={plan} prediction={prediction} before={before} />
      <div ref={below} className="radio-below">
        {isSeen && (
          <Suspense>
            <Power plan={plan} wantedDb={wantedDb} take={take} />
            <Year plan={plan} prediction={prediction} />
          </Suspense>
        )}
      </div>
      <div className="columns">
        <Ledger
          title={`What arrives at the near end, ${near.place.name}`}
          end="near"
          prediction={prediction.near}
          before={before?.near}
        />
        <Ledger
          title={`What arrives at the far end, ${far.place.name}`}
          end="far"
          prediction={prediction.far}
          before={before?.far}
        />
      </div>
      <div className="columns">
        {(['nearToFar', 'farToNear'] as const).map((direction) => (
          <Rates
            key={direction}
            title={`Throughput ${direction === 'nearToFar' ? 'near to far' : 'far to near'}`}
            expectation={prediction[direction]}
            needMbps={numberIn(draft[needKeys[direction]]) || 0}
            left={leftFor(view, draft, prediction, direction)}
            before={before?.[direction]}
          />
        ))}
      </div>
    </div>
  );
}

const needKeys = { nearToFar: 'needNearToFarMbps', farToNear: 'needFarToNearMbps' } as const;

/** What is left for a direction of the draft: the stored figure where others share the air, else what the other direction leaves. */
function leftFor(
  view: LinkView,
  draft: PlanDraft,
  prediction: LinkPrediction,
  direction: Direction,
): { mbps: number; words: string } {
  if (view.shared?.others && !draftChanged(view, draft)) {
    return { mbps: view.shared.mbps[direction], words: 'left while the others on this air take what they need' };
  }
  if (view.air.kind === 'duplex')
    return { mbps: prediction[direction].bothMbps, words: 'left with both directions loaded' };
  const member = (d: Direction) => ({
    aloneMbps: prediction[d].aloneMbps,
    needMbps: numberIn(draft[needKeys[d]]) || 0,
  });
  const other = direction === 'nearToFar' ? 'farToNear' : 'nearToFar';
  const [own] = shareAir([member(direction), member(other)]);
  return { mbps: own?.sharedMbps ?? 0, words: 'left while the other direction takes what it needs' };
}
