import { planOf } from '@kivram/core/budget/plan';
import { tryPredict, type LinkPrediction } from '@kivram/core/budget/prediction';
import { useMemo } from 'react';
import { useLinkContext } from './LinkLayout';

/** What the plan of the open link comes to, for the steps that go by it; null where it cannot be computed. Those that do not load less without it. */
export function useLinkPrediction(): LinkPrediction | null {
  const { view } = useLinkContext();
  return useMemo(() => tryPredict(planOf(view)).prediction, [view]);
}
