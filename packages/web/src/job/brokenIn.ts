import { tryPredict } from '@kivram/core/budget/prediction';
import { brokenLaw } from '@kivram/core/verdict/steps';
import { hopFacts, hopPlan, type HopSurroundings } from './hopPlan';
import type { LinkForm } from './linkForm';

/** What the links of a form break of law and licences, each with the link's name where there are several. The ground plays no part in it. */
export function brokenIn(form: LinkForm, around: HopSurroundings): string[] {
  return form.hops.flatMap((hop, index) => {
    const plan = hopPlan(form, index, around, null);
    const broken = plan && brokenLaw(hopFacts(form, index, plan, tryPredict(plan).prediction, around.places));
    return broken ? [form.hops.length > 1 ? `${hop.name}: ${broken}` : broken] : [];
  });
}
