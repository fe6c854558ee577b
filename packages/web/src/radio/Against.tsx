import { typeset } from '../parts/Figure';

interface Props {
  now: number | null | undefined;
  /** nothing where there is nothing to compare with */
  was: number | null | undefined;
  /** left out: one of what is small, none of what is large */
  digits?: number;
}

/** By how much a figure differs from the plan in place; nothing where the difference would be written as 0. */
export function Against({ now, was, digits }: Props) {
  const by = (now ?? NaN) - (was ?? NaN);
  if (!Number.isFinite(by)) return null;
  const shown = digits ?? (Math.abs(by) < 10 ? 1 : 0);
  if (Math.abs(by) < 0.5 * 10 ** -shown) return null;
  return (
    <span className="against" title="against the plan in place">
      {typeset(by, shown, true)}
    </span>
  );
}
