import type { Place } from '@kivram/contract/entities/place';
import { Height } from '../parts/Figure';

interface ListProps {
  places: Place[];
  chosenId: string | null;
  onChoose(placeId: string): void;
}

/** The map's places as a list: what the map shows, for keys and ears. */
export function PlaceList({ places, chosenId, onChoose }: ListProps) {
  return (
    <div className="map-places">
      {places.map((place) => (
        <button
          key={place.id}
          type="button"
          className="map-place"
          aria-pressed={place.id === chosenId}
          onClick={() => onChoose(place.id)}
        >
          <span>
            {place.name} {place.kind === 'landmark' && <span className="soft">landmark</span>}
          </span>
          <Height metres={place.groundHeightM} />
        </button>
      ))}
      {!places.length && <p className="note">No places yet. Click on the map, type a position, or drop a file.</p>}
    </div>
  );
}
