import type { LinksOnAirView, LinkView, PlannedLink } from '@kivram/contract/views/link';
import { plansTogether, predictTogether, type AirPrediction } from '@kivram/core/budget/airPrediction';
import { ends, planOf, type End, type LinkPlan, type RadioPlan } from '@kivram/core/budget/plan';
import type { PowerSharer } from '@kivram/core/budget/power';
import type { Model } from '@kivram/core/gear/model';
import { numberIn } from '../parts/NumberField';
import { draftPlan, type PlanDraft } from './planDraft';

/** A draft as a plan among the others on its air. */
export interface PlanOnAir {
  plan: LinkPlan | null;
  /** all on the air, in the order of its links, as they are while this is tried; null where it is not shared, or not read yet */
  air: AirPrediction | null;
  /** the others that go through a radio of this link */
  sharers: PowerSharer[];
}

/** The plan of a draft, with what the others on its air need of the time while it is tried: another width or another hub's power changes them, too. */
export function planOnAir(
  view: LinkView,
  draft: PlanDraft,
  models: readonly Model[],
  onAir: LinksOnAirView | undefined,
): PlanOnAir {
  const plan = draftPlan(view, draft, models);
  const own = onAir?.links.findIndex(({ link }) => link.id === view.link.id) ?? -1;
  if (!plan || !onAir || own < 0) return { plan, air: null, sharers: [] };
  const years = numberIn(draft.treeYears) || 0;
  const plans = onAir.links.map((other, i) => (i === own ? plan : besides(other, view, plan, years)));
  const together = plansTogether(plans);
  const air = predictTogether(together);
  const sharers = onAir.links.flatMap((other, i) =>
    i === own ? [] : sharedRadios(other, view).map((radios) => sharerOf(other, together.plans[i] ?? plan, radios)),
  );
  return { plan: together.plans[own] ?? plan, air, sharers };
}

function sharerOf({ link }: PlannedLink, plan: LinkPlan, radios: Pick<PowerSharer, 'end' | 'theirEnd'>): PowerSharer {
  return { ...radios, name: link.name, plan, wantedDb: link.wantedMarginDb };
}

/** Another link on the air while something is tried: it has the same air and weather, and the radio that both share. */
function besides(other: PlannedLink, view: LinkView, tried: LinkPlan, years: number): LinkPlan {
  const plan = planOf(other);
  const shared = sharedRadios(other, view);
  const radio = (theirs: End): RadioPlan => {
    const same = shared.find(({ theirEnd }) => theirEnd === theirs);
    return same ? tried[same.end] : plan[theirs];
  };
  return {
    ...plan,
    air: tried.air,
    climate: tried.climate,
    rainNowMmPerH: tried.rainNowMmPerH,
    terrain: plan.terrain && years ? { ...plan.terrain, year: plan.terrain.year + years } : plan.terrain,
    near: radio('near'),
    far: radio('far'),
  };
}

/** Which ends of two links are one radio. */
function sharedRadios(other: PlannedLink, view: LinkView): Pick<PowerSharer, 'end' | 'theirEnd'>[] {
  return ends.flatMap((end) =>
    ends.filter((theirEnd) => other[theirEnd].radio.id === view[end].radio.id).map((theirEnd) => ({ end, theirEnd })),
  );
}
