import type { Climate } from '@kivram/core/propagation/climate';

/** Beside what rests on a climate that nobody chose. */
export function Guessed({ climate }: { climate: Climate | undefined }) {
  return climate?.isGuessed ? <span className="note"> guessed</span> : null;
}
