import type { LinkView } from '@kivram/contract/views/link';
import { sendingChannel } from '@kivram/core/air/air';
import { eirpOf } from '@kivram/core/budget/hop';
import { ends, type End } from '@kivram/core/budget/plan';
import type { Model } from '@kivram/core/gear/model';
import type { Licence } from '@kivram/core/spectrum/licence';
import { draftPlan, type PlanDraft } from './planDraft';

/** A draft by a licence: its frequencies and spacing, the higher one sent from the place that it names, and where an end would send more than it allows, less power. @param near, far the gear that is tried */
export function draftByLicence(
  view: LinkView,
  draft: PlanDraft,
  licence: Licence & { id: string },
  { near, far }: Record<End, Model>,
): PlanDraft {
  const { centreMHz, returnMHz } = sentAs(view, licence);
  const common = near.widthsMHz.filter((w) => far.widthsMHz.includes(w));
  // A spacing that the radios do not have is left as it is: the screen says so.
  const widthMHz = common.includes(licence.widthMHz) ? licence.widthMHz : draft.widthMHz;
  const next = { ...draft, licenceId: licence.id, centreMHz, returnMHz, widthMHz };
  const plan = draftPlan(view, next, [near, far]);
  if (!plan) return next;
  for (const end of ends) {
    const radio = plan[end];
    const overDb = eirpOf(radio, sendingChannel(plan.air, radio.role).centreMHz) - licence.mostEirpDbm;
    if (overDb > 0) next[`${end}ConductedDbm`] = Math.floor(10 * (radio.conductedDbm - overDb) + 1e-6) / 10;
  }
  return next;
}

/** What the access radio sends and what the other one, as the licence's places have it; where they are not told, as the licence has them. */
function sentAs({ near, far }: LinkView, licence: Licence): { centreMHz: number; returnMHz: number } {
  const { centreMHz, returnMHz, lowPlaceId, highPlaceId } = licence;
  const [access, other] = near.radio.role === 'access' ? [near, far] : [far, near];
  const [low, high] = [Math.min(centreMHz, returnMHz), Math.max(centreMHz, returnMHz)];
  if (lowPlaceId === access.place.id || highPlaceId === other.place.id) return { centreMHz: low, returnMHz: high };
  if (highPlaceId === access.place.id || lowPlaceId === other.place.id) return { centreMHz: high, returnMHz: low };
  return { centreMHz, returnMHz };
}
