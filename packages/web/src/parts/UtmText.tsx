import type { Position } from '@kivram/core/geodesy/coordinates';
import { formatUtm } from '@kivram/core/geodesy/utm';

/** A position in UTM. A module of its own, to be loaded where it is shown: projections are heavy. */
export default function UtmText({ position }: { position: Position }) {
  return <>{formatUtm(position)}</>;
}
