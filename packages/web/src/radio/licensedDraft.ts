import type { LinkView } from '@kivram/contract/views/link';
import { sendingChannel } from '@kivram/core/air/air';
import { eirpOf } from '@kivram/core/budget/hop';
import { ends, type End } from '@kivram/core/budget/plan';
import type { Model } from '@kivram/core/gear/model';
import { licenceFor, type Licence } from '@kivram/core/spectrum/licence';
import { numberIn } from '../parts/NumberField';
import { draftPlan, type PlanDraft } from './planDraft';

/** The licence that covers the frequencies of a draft. */
export function licenceOf<L extends Licence>(draft: PlanDraft, licences: readonly L[]): L | undefined {
  const { centreMHz, returnMHz, widthMHz } = draft;
  const air = { kind: 'duplex', centreMHz: numberIn(centreMHz), returnMHz: numberIn(returnMHz), widthMHz };
  return licenceFor(air, licences);
}

/** A draft by a licence: its frequencies and spacing, and where an end would send more than it allows, less power. @param near, far the gear that is tried */
export function draftByLicence(
  view: LinkView,
  draft: PlanDraft,
  licence: Licence,
  { near, far }: Record<End, Model>,
): PlanDraft {
  const { centreMHz, returnMHz } = licence;
  const common = near.widthsMHz.filter((w) => far.widthsMHz.includes(w));
  // A spacing that the radios do not have is left as it is: the screen says so.
  const widthMHz = common.includes(licence.widthMHz) ? licence.widthMHz : draft.widthMHz;
  const next = { ...draft, centreMHz, returnMHz, widthMHz };
  const plan = draftPlan(view, next, [near, far]);
  if (!plan) return next;
  for (const end of ends) {
    const radio = plan[end];
    const overDb = eirpOf(radio, sendingChannel(plan.air, radio.role).centreMHz) - licence.mostEirpDbm;
    if (overDb > 0) next[`${end}ConductedDbm`] = Math.floor(10 * (radio.conductedDbm - overDb) + 1e-6) / 10;
  }
  return next;
}
