import type { Obstacle } from '@kivram/contract/entities/obstacle';
import type { Place } from '@kivram/contract/entities/place';
import { formatDms, type Position } from '@kivram/core/geodesy/coordinates';
import { solveGeodesic, wrap180 } from '@kivram/core/geodesy/geodesic';
import { obstacleRules } from '@kivram/core/path/obstacles';
import { useComputedColorScheme } from '@mantine/core';
import L from 'leaflet';
import 'leaflet/dist/leaflet.css';
import { useEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { Height } from '../parts/Figure';
import { StateShape, stateWord } from '../parts/StateMark';
import { useSettings } from '../settings';
import { extentOf, longitudeBeside } from './extent';
import { Drawn, LeafletMap, Mark, useEvents, useLayer, useMap } from './leaflet';
import './map.css';
import { ReliefLayer } from './reliefLayer';
import type { MapJob } from './mapJob';
import type { ShownMap } from './waitingMap';

export interface Overlay {
  url: string;
  bounds: L.LatLngBoundsLiteral;
}

interface Props {
  job: MapJob;
  /** its places and obstacles, with what waits on this device */
  map: ShownMap;
  chosenId: string | null;
  /** corners of an obstacle that is being put down */
  corners: Position[];
  overlay: Overlay | null;
  tileUrl: string | null;
  /** changes when terrain was imported or removed */
  terrainKey: string;
  hint: string | null;
  /** a place to go to */
  shown: Position | null;
  onChoose(placeId: string): void;
  onMove(place: Place, to: Position): void;
  onClick(at: Position): void;
  /** a corner of the obstacle was drawn elsewhere */
  onCorner(index: number, to: Position): void;
}

/** The job on its terrain: places that can be moved, links from near to far with their state, what stands in the way. */
export function JobMap({
  job,
  map: { places, obstacles, waits, isNew },
  chosenId,
  corners,
  overlay,
  tileUrl,
  terrainKey,
  hint,
  shown,
  onChoose,
  onMove,
  onClick,
  onCorner,
}: Props) {
  const { units } = useSettings();
  const night = useComputedColorScheme('light') === 'dark';
  const relief = useRef<ReliefLayer | null>(null);
  const extent = useMemo(() => extentOf(job.places), [job.places]);
  const latLng = (p: Position): L.LatLngTuple => [p.latitudeDeg, longitudeBeside(p.longitudeDeg, extent.centreDeg)];
  const whole = extent.corners
    ? L.latLngBounds(latLng(extent.corners[0]), latLng(extent.corners[1])).pad(0.15)
    : L.latLngBounds([-60, -170], [75, 170]);
  const [bounds] = useState(whole); // the map reads them once
  const byId = useMemo(() => new Map(places.map((p) => [p.id, p])), [places]);
  return (
    <div className="map-frame">
      <LeafletMap bounds={bounds} options={mapOptions}>
        {tileUrl ? (
          <Drawn make={() => L.tileLayer(tileUrl)} of={tileUrl} />
        ) : (
          <ReliefTiles key={`${terrainKey} ${night}`} night={night} reliefRef={relief} />
        )}
        <Fit bounds={whole} at={shown && latLng(shown)} />
        <Scale key={units} isMetric={units === 'metric'} />
        <Clicks onClick={onClick} />
        {overlay && (
          <Drawn make={() => L.imageOverlay(overlay.url, overlay.bounds, { opacity: 0.62 })} of={overlay.url} />
        )}
        {job.links.map((link) => {
          const near = byId.get(link.nearPlaceId);
          const far = byId.get(link.farPlaceId);
          // A shaft has no length on a map.
          if (!near || !far || solveGeodesic(near, far).distanceM < 5) return null;
          const [a, b] = [latLng(near), latLng(far)];
          const middle: L.LatLngTuple = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
          const { state } = link;
          const of = [a, b].join(' ');
          return (
            <div key={link.id}>
              <Drawn
                make={() => L.polyline([a, middle], { className: 'map-link-near', color: 'var(--near)', weight: 4 })}
                of={of}
              />
              <Drawn
                make={() => L.polyline([middle, b], { color: 'var(--far)', weight: 4 })}
                of={of}
                tip={
                  <>
                    {link.name}: {stateWord(state)}
                  </>
                }
                tipOptions={{ sticky: true }}
              />
              <Mark
                at={middle}
                options={{ icon: noIcon, interactive: false, keyboard: false }}
                of=""
                tip={
                  <>
                    <StateShape state={state} size={14} />
                    <span className="visually-hidden">
                      {link.name}: {stateWord(state)}
                    </span>
                  </>
                }
                tipOptions={{ permanent: true, direction: 'center', className: 'map-state' }}
              />
            </div>
          );
        })}
        {obstacles.map((obstacle) => (
          <Footprint key={obstacle.id} obstacle={obstacle} latLng={latLng} />
        ))}
        {corners.length > 0 && (
          <Drawn
            make={() => L.polyline(corners.map(latLng), { color: 'var(--thin)', weight: 6 })}
            of={corners.map(latLng).join(' ')}
          />
        )}
        {corners.map((corner, i) => (
          <Mark
            key={`${i} ${corner.latitudeDeg} ${corner.longitudeDeg}`}
            at={latLng(corner)}
            options={{ icon: cornerIcon, draggable: true, title: `Corner ${i + 1}`, alt: `Corner ${i + 1}` }}
            of=""
            handlers={{ dragend: (event) => onCorner(i, positionOf((event.target as L.Marker).getLatLng())) }}
          />
        ))}
        {places.map((place) => (
          <Mark
            key={`${place.id} ${place.version} ${place.id === chosenId} ${waits.has(place.id)}`}
            at={latLng(place)}
            options={{
              icon: iconOf(place, place.id === chosenId, waits.has(place.id)),
              draggable: !isNew.has(place.id),
              title: place.name,
              alt: `${place.name}, ${place.kind}${waits.has(place.id) ? ', waits on this device' : ''}`,
              keyboard: true,
            }}
            of=""
            handlers={{
              click: () => !isNew.has(place.id) && onChoose(place.id),
              keypress: (event) =>
                (event as L.LeafletKeyboardEvent).originalEvent.key === 'Enter' &&
                !isNew.has(place.id) &&
                onChoose(place.id),
              dragend: (event) => onMove(place, positionOf((event.target as L.Marker).getLatLng())),
            }}
            tip={place.name}
            tipOptions={{ permanent: true, direction: 'right', offset: [10, 0], className: 'map-name' }}
          />
        ))}
        <Pointer relief={relief} />
      </LeafletMap>
      <svg className="map-north" width="26" height="40" viewBox="0 0 26 40" role="img" aria-label="North is up">
        <path d="M13 38V6M13 2l-6 12h12z" stroke="var(--ink)" strokeWidth="2" fill="var(--ink)" />
        <text
          x="13"
          y="36"
          fontSize="13"
          fontWeight="600"
          textAnchor="middle"
          fill="var(--ink)"
          stroke="var(--paper)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          N
        </text>
      </svg>
      {hint && (
        <div className="map-hint" role="status">
          {hint}
        </div>
      )}
    </div>
  );
}

const mapOptions: L.MapOptions = { attributionControl: false, zoomSnap: 0.5, maxZoom: 19 };

const cornerIcon = L.divIcon({ className: 'map-corner', iconSize: [44, 44] });
const noIcon = L.divIcon({ className: '', iconSize: [0, 0] });

function iconOf(place: Place, chosen: boolean, waits: boolean): L.DivIcon {
  return L.divIcon({
    className: `map-marker ${place.kind === 'site' ? 'map-site' : 'map-landmark'}${chosen ? ' map-chosen' : ''}${waits ? ' map-waits' : ''}`,
    iconSize: [44, 44],
  });
}

function ReliefTiles({ night, reliefRef }: { night: boolean; reliefRef: RefObject<ReliefLayer | null> }) {
  const made = useLayer(() => new ReliefLayer({ night, maxZoom: 19 }), String(night));
  useEffect(() => {
    reliefRef.current = made;
    return () => {
      reliefRef.current = null;
    };
  }, [made, reliefRef]);
  return null;
}

function Scale({ isMetric }: { isMetric: boolean }) {
  const map = useMap();
  useEffect(() => {
    const scale = L.control.scale({ metric: isMetric, imperial: !isMetric }).addTo(map);
    return () => void scale.remove();
  }, [map, isMetric]);
  return null;
}

/** A map goes on beyond 180 degrees; positions do not. */
function positionOf({ lat, lng }: L.LatLng): Position {
  return { latitudeDeg: Math.max(-90, Math.min(90, lat)), longitudeDeg: wrap180(lng) };
}

/** What is asked for is shown from near enough to draw at it. */
const closeUp = 15;

/** Back to the whole job from wherever the map has gone, or to one place. */
function Fit({ bounds, at }: { bounds: L.LatLngBounds; at: L.LatLngTuple | null }) {
  const map = useMap();
  const key = at?.join() ?? '';
  useEffect(() => {
    const container = map.getContainer();
    container.setAttribute('role', 'application');
    container.setAttribute(
      'aria-label',
      'Map. Arrow keys move it, plus and minus zoom. The list beside it holds the same places.',
    );
  }, [map]);
  useEffect(() => {
    if (at) map.setView(at, Math.max(map.getZoom(), closeUp));
  }, [map, key]); // oxlint-disable-line react/exhaustive-deps -- once for each place that is asked for
  return (
    <button type="button" className="map-whole" onClick={() => map.fitBounds(bounds)}>
      Whole job
    </button>
  );
}

function Clicks({ onClick }: Pick<Props, 'onClick'>) {
  useEvents(useMap(), { click: (event) => onClick(positionOf((event as L.LeafletMouseEvent).latlng)) });
  return null;
}

/** Coordinates and ground under the pointer. */
function Pointer({ relief }: { relief: RefObject<ReliefLayer | null> }) {
  const [at, setAt] = useState<{ latLng: L.LatLng; heightM: number | null } | null>(null);
  const map = useMap();
  useEvents(map, {
    mousemove: (event) => {
      const { latlng } = event as L.LeafletMouseEvent;
      setAt({ latLng: latlng, heightM: relief.current?.heightAt(map, latlng) ?? null });
    },
    mouseout: () => setAt(null),
  });
  if (!at) return null;
  return (
    <div className="map-pointer figure">
      {formatDms(at.latLng.lat, 'latitude')} {formatDms(wrap180(at.latLng.lng), 'longitude')}{' '}
      {at.heightM !== null && <Height metres={at.heightM} />}
    </div>
  );
}

function Footprint({ obstacle, latLng }: { obstacle: Obstacle; latLng(p: Position): L.LatLngTuple }) {
  const [first] = obstacle.footprint;
  if (!first) return null;
  const words = obstacle.name || obstacleRules[obstacle.kind].words;
  const style = {
    color: obstacle.kind === 'trees' ? 'var(--holds)' : 'var(--ink)',
    weight: 2,
    dashArray: obstacle.kind === 'vehicle' ? '4 3' : undefined,
  };
  const tip = (
    <>
      {words}, <Height metres={obstacle.heightM} />
    </>
  );
  const corners = obstacle.footprint.map(latLng);
  const make = (): L.Layer => {
    if (corners.length === 1) return L.circle(latLng(first), { ...style, radius: obstacle.widthM / 2 });
    return obstacle.isArea ? L.polygon(corners, style) : L.polyline(corners, { ...style, weight: 6 });
  };
  return (
    <Drawn
      make={make}
      of={[obstacle.version, obstacle.widthM, obstacle.isArea, obstacle.kind, ...corners].join(' ')}
      tip={tip}
      tipOptions={{ sticky: true }}
    />
  );
}
