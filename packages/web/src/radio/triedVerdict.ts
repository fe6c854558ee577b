import type { LinksOnAirView, LinkView } from '@kivram/contract/views/link';
import { disturbanceOf } from '@kivram/core/budget/neighbours';
import { needLoad, sharedRates, type AirPrediction } from '@kivram/core/budget/airPrediction';
import { licenceFacts } from '@kivram/core/budget/licenceFacts';
import type { LinkPlan } from '@kivram/core/budget/plan';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import { brokenLaw, judgeRadio, type RadioFacts, type StepState } from '@kivram/core/verdict/steps';

/** What a plan that is tried comes to, and which law it breaks, in words. */
export interface TriedVerdict extends Pick<StepState, 'state' | 'because'> {
  broken: string | undefined;
}

const noNeed = { nearToFarMbps: 0, farToNearMbps: 0 };

/** Judges a plan that is tried as the step will be judged once it is saved. */
export function triedVerdict(
  view: LinkView,
  plan: LinkPlan,
  prediction: LinkPrediction,
  wantedDb: number,
  air: AirPrediction | null,
  onAir: LinksOnAirView | undefined,
): TriedVerdict {
  const { nearToFarMbps = 0, farToNearMbps = 0 } = plan.need ?? {};
  const need = { nearToFar: nearToFarMbps, farToNear: farToNearMbps };
  const end = (side: 'near' | 'far') => ({ ...view[side], model: plan[side].model });
  const licence = licenceFacts({
    air: plan.air,
    licence: plan.licence ?? null,
    day: plan.day,
    near: end('near'),
    far: end('far'),
  });
  const others = air && onAir ? onAir.links : [];
  const links = others.map(({ link }, i) => ({
    prediction: air?.members[i]?.prediction ?? null,
    need: link.id === view.link.id ? need : { nearToFar: link.needNearToFarMbps, farToNear: link.needFarToNearMbps },
  }));
  const own = others.findIndex(({ link }) => link.id === view.link.id);
  const mbps = own < 0 ? sharedRates(plan.air.kind, [{ prediction, need }], 0) : sharedRates(plan.air.kind, links, own);
  const facts: RadioFacts = {
    prediction,
    need,
    shared: mbps && { mbps, others: others.length > 1 },
    fade: prediction.need && { needDb: prediction.need.fadeDb, wantedDb },
    licence,
    disturbance: disturbanceOf(
      plan,
      prediction,
      air?.load ?? needLoad(prediction, plan.need ?? noNeed),
      view.heard ?? [],
    ),
  };
  return { ...judgeRadio(facts), broken: brokenLaw(facts) };
}
