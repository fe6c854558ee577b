import type { Place } from '@kivram/contract/entities/place';
import type { Landmark, LinkEnd } from '@kivram/contract/views/link';
import type { EndPrediction } from '@kivram/core/budget/prediction';
import { landmarkIsSeen, landmarksOnBearing } from '@kivram/core/path/landmark';
import { terrainShelf } from '../terrain/shelf';

/** The nearest other place on an end's bearing that is seen from its antenna; null where there is none. */
export async function landmarkFor(
  { place }: LinkEnd,
  { azimuthDeg, antennaHeightAslM }: EndPrediction,
  places: readonly Place[],
): Promise<Landmark | null> {
  for (const { landmark, distanceM, rightDeg } of landmarksOnBearing(place, azimuthDeg, places)) {
    const profile = await terrainShelf.profile(place, landmark);
    const seen = landmarkIsSeen(profile, antennaHeightAslM, landmark.groundHeightM);
    if (seen !== false) return { name: landmark.name, distanceM, rightDeg, terrainKnown: seen !== null };
  }
  return null;
}
