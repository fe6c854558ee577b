import type { LinksOnAirView, LinkView } from '@kivram/contract/views/link';
import { shareAir } from '@kivram/core/air/airtime';
import type { AirPrediction } from '@kivram/core/budget/airPrediction';
import type { LinkPlan } from '@kivram/core/budget/plan';
import type { PowerSharer } from '@kivram/core/budget/power';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import type { Direction } from '@kivram/core/verdict/throughputVerdict';
import { numberIn } from '../parts/NumberField';
import { Ledger } from './Ledger';
import { OnAir } from './OnAir';
import type { PlanDraft } from './planDraft';
import { Power } from './Power';
import { Rates } from './Rates';
import { Year } from './Year';

/** All that follows from a plan. */
export function Consequences({
  view,
  plan,
  dryPlan,
  air,
  onAir,
  sharers,
  prediction,
  before,
  draft,
  wantedDb,
  take,
}: {
  view: LinkView;
  plan: LinkPlan;
  /** the same without the rain that falls now: power is not set by a shower */
  dryPlan: LinkPlan;
  /** of a shared air, once it is read */
  air: AirPrediction | null;
  onAir: LinksOnAirView | undefined;
  /** the others that go through a radio of this link */
  sharers: readonly PowerSharer[];
  prediction: LinkPrediction;
  before: LinkPrediction | null;
  draft: PlanDraft;
  wantedDb: number;
  take?: (powers: { near: number; far: number }) => void;
}) {
  const { near, far } = view;
  return (
    <div className="radio-follows">
      {onAir && air && <OnAir linkId={view.link.id} onAir={onAir} air={air} isTrying={!!before} />}
      <Power plan={dryPlan} wantedDb={wantedDb} sharers={sharers} take={take} />
      <Year plan={plan} prediction={prediction} />
      <div className="columns">
        <Ledger
          title={`What arrives at the near end, ${near.place.name}`}
          end="near"
          prediction={prediction}
          before={before}
        />
        <Ledger
          title={`What arrives at the far end, ${far.place.name}`}
          end="far"
          prediction={prediction}
          before={before}
        />
      </div>
      <div className="columns">
        {(['nearToFar', 'farToNear'] as const).map((direction) => (
          <Rates
            key={direction}
            title={`Throughput ${direction === 'nearToFar' ? 'near to far' : 'far to near'}`}
            expectation={prediction[direction]}
            needMbps={numberIn(draft[needKeys[direction]]) || 0}
            left={leftFor(view, plan.need?.othersLoad ?? 0, draft, prediction, direction)}
            before={before?.[direction]}
          />
        ))}
      </div>
    </div>
  );
}

const needKeys = { nearToFar: 'needNearToFarMbps', farToNear: 'needFarToNearMbps' } as const;

/** What is left for a direction of the draft while the other one, and the others on the air, take what they need. */
function leftFor(
  { air, sharers }: LinkView,
  othersLoad: number,
  draft: PlanDraft,
  prediction: LinkPrediction,
  direction: Direction,
): { mbps: number; words: string } {
  if (air.kind === 'duplex') return { mbps: prediction[direction].bothMbps, words: 'left with both directions loaded' };
  const member = (d: Direction) => ({
    aloneMbps: prediction[d].aloneMbps,
    needMbps: numberIn(draft[needKeys[d]]) || 0,
  });
  const other = direction === 'nearToFar' ? 'farToNear' : 'nearToFar';
  // The others as one member of 1 Mbit/s that needs their share of the time.
  const [own] = shareAir([member(direction), member(other), { aloneMbps: 1, needMbps: othersLoad }]);
  return {
    mbps: own?.sharedMbps ?? 0,
    words: sharers.length
      ? 'left while the others on this air and the other direction take what they need'
      : 'left while the other direction takes what it needs',
  };
}
