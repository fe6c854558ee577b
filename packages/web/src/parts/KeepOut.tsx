import { keepOutOf } from '@kivram/core/budget/keepOut';
import type { End, LinkPlan } from '@kivram/core/budget/plan';
import { Length } from './Figure';

/** How far people stay away in front of an antenna: the same wherever it stands. */
export function KeepOut({ plan, end }: { plan: LinkPlan; end: End }) {
  const { distanceM, icnirpM, fccM, words } = keepOutOf(plan, end);
  return (
    <span title={`ICNIRP 2020 ${icnirpM.toFixed(2)} m, FCC ${fccM.toFixed(2)} m`}>
      <Length metres={distanceM} /> <span className="note">{words}</span>
    </span>
  );
}
