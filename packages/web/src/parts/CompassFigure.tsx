import type { LinkEnd } from '@kivram/contract/views/link';
import { magneticBearingDeg, magneticDeclination } from '@kivram/core/geodesy/declination';
import { Figure } from './Figure';
import { useToday } from './useToday';

/** What a compass shows at an end for a true bearing. */
export function CompassFigure({ end, azimuthDeg }: { end: LinkEnd; azimuthDeg: number }) {
  const { declinationDeg } = magneticDeclination(end.place, end.place.groundHeightM, useToday());
  return <Figure value={magneticBearingDeg(azimuthDeg, declinationDeg)} unit="°" digits={1} />;
}
