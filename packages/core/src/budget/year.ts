import { tcpAloneMbps } from '../throughput/expectation';
import type { Outage } from './availability';
import { stepAt, type LadderStep } from './hop';
import type { LinkPlan } from './plan';
import type { LinkPrediction } from './prediction';

/** One step of a direction's year: what crosses while it lasts, and how long in a year it does not last. */
export interface YearStep {
  ladder: LadderStep;
  /** TCP one way with nothing the other way, while both levels have faded to this step */
  mbps: number;
  below: Outage;
}

/**
 * A direction's average year, its fastest step first: rate against the time for which it is not reached. Both directions fade together, so the
 * acknowledgements come back by the step that the other receiver has then.
 */
export function yearOf(plan: LinkPlan, prediction: LinkPrediction, direction: 'nearToFar' | 'farToNear'): YearStep[] {
  const there = direction === 'nearToFar' ? prediction.far : prediction.near;
  const back = direction === 'nearToFar' ? prediction.near : prediction.far;
  const { phy } = plan.near.model;
  const { protocol } = plan.air;
  return there.ladder
    .map((ladder) => {
      // Where the other direction is gone a tenth of a decibel sooner, its slowest step stands in.
      const reverse = (stepAt(back.ladder, ladder.marginDb) ?? back.ladder[0]?.step)?.phyRateMbps ?? 0;
      const mbps = tcpAloneMbps({
        phy,
        protocol,
        phyRateMbps: ladder.step.phyRateMbps,
        reversePhyRateMbps: reverse,
        ethernetMbps: prediction[direction].ceiling.portMbps,
      });
      return { ladder, mbps, below: ladder.below };
    })
    .sort((a, b) => b.ladder.step.phyRateMbps - a.ladder.step.phyRateMbps);
}
