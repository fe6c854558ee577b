import { Height } from '../parts/Figure';
import type { ShownMap } from './waitingMap';

interface ListProps {
  map: ShownMap;
  chosenId: string | null;
  onChoose(placeId: string): void;
}

/** The map's places as a list: what the map shows, for keys and ears. */
export function PlaceList({ map: { places, waits, isNew }, chosenId, onChoose }: ListProps) {
  return (
    <div className="map-places">
      {places.map((place) => (
        <button
          key={place.id}
          type="button"
          className="map-place"
          disabled={isNew.has(place.id)}
          aria-pressed={place.id === chosenId}
          onClick={() => onChoose(place.id)}
        >
          <span>
            {place.name} {place.kind === 'landmark' && <span className="soft">landmark</span>}
          </span>
          {waits.has(place.id) ? (
            <span className="soft">waits on this device</span>
          ) : (
            <Height metres={place.groundHeightM} />
          )}
        </button>
      ))}
      {!places.length && <p className="note">No places yet. Click on the map, type a position, or drop a file.</p>}
    </div>
  );
}
