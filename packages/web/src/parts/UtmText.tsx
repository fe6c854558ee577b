import { formatUtm, type Position } from '@kivram/core';

/** A position in UTM. A module of its own, to be loaded where it is shown: projections are heavy. */
export default function UtmText({ position }: { position: Position }) {
  return <>{formatUtm(position)}</>;
}
