import type { LinkView } from '@kivram/contract/views/link';
import { ends, planOf, type End } from '@kivram/core/budget/plan';
import { benchPower, benchPowerWords, usualBenchM } from '@kivram/core/budget/benchPower';
import { waitWords } from '@kivram/core/gear/wait';
import { useMemo } from 'react';
import { Length } from '../parts/Figure';

/** What holds for two radios on one table, with their own power and patience. */
export function OnTheTable({ view }: { view: LinkView }) {
  const { near, far } = view;
  const power = useMemo(() => {
    const plan = planOf(view);
    const bench = benchPower(plan, usualBenchM);
    const words = (end: End): string => benchPowerWords(plan, end, bench);
    return words('near') === words('far')
      ? `set the power to ${words('near')}`
      : ends.map((end) => `set the power at the ${end} end to ${words(end)}`).join('; ');
  }, [view]);
  const waits = [...new Set([near.model, far.model].map(waitWords))];
  return (
    <p className="caution">
      On the table, <Length metres={usualBenchM} /> apart, {power} (Radio reckons other distances). Access point first
      and left on, one radio at a time: factory-new radios share one address. Never link and cable between the same two
      switches at once. Do not pull the plug: a radio {waits.join('; the other ')}.
    </p>
  );
}
