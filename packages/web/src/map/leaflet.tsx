import L from 'leaflet';
import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from 'react';
import { createPortal } from 'react-dom';

/** What React says of a Leaflet map: the map itself, and what is drawn on it for as long as it is said. */
const MapContext = createContext<L.Map | null>(null);

/** A map in the box that it is put into; what stands in it is drawn once the map is there. */
export function LeafletMap({
  bounds,
  options,
  children,
}: {
  /** what it begins with */
  bounds: L.LatLngBounds;
  options: L.MapOptions;
  children: ReactNode;
}) {
  const box = useRef<HTMLDivElement>(null);
  const [map, setMap] = useState<L.Map | null>(null);
  useEffect(() => {
    if (!box.current) return;
    const made = L.map(box.current, options).fitBounds(bounds);
    setMap(made);
    return () => {
      setMap(null);
      made.remove();
    };
  }, []); // oxlint-disable-line react/exhaustive-deps -- made once: afterwards it is moved by hand
  return (
    <div ref={box} className="map-box">
      {map && <MapContext value={map}>{children}</MapContext>}
    </div>
  );
}

/** @throws Error outside of a map */
export function useMap(): L.Map {
  const map = useContext(MapContext);
  if (!map) throw new Error('there is no map around this');
  return map;
}

/** What is done when something happens, by Leaflet's names of events. */
type Handlers = Partial<Record<string, (event: L.LeafletEvent) => void>>;

/** Listens to a map or a layer; what is done is always that of the last drawing. */
export function useEvents(target: L.Evented | null, handlers: Handlers): void {
  const latest = useRef(handlers);
  useEffect(() => {
    latest.current = handlers;
  });
  const names = Object.keys(handlers).join();
  useEffect(() => {
    if (!target) return;
    const own = names
      .split(',')
      .filter(Boolean)
      .map((name) => [name, (event: L.LeafletEvent) => latest.current[name]?.(event)] as const);
    for (const [name, done] of own) target.on(name, done);
    return () => {
      for (const [name, done] of own) target.off(name, done);
    };
  }, [target, names]);
}

/** A layer on the map around it. @param of stands for all that it is made from: another one makes it anew */
export function useLayer<Made extends L.Layer>(make: () => Made, of: string): Made | null {
  const map = useMap();
  const [layer, setLayer] = useState<Made | null>(null);
  useEffect(() => {
    const made = make();
    made.addTo(map);
    setLayer(made); // oxlint-disable-line react/set-state-in-effect -- made outside of React, once the map is there
    return () => {
      setLayer(null);
      made.remove();
    };
  }, [map, of]); // oxlint-disable-line react/exhaustive-deps -- `of` stands for what `make` draws from
  return layer;
}

interface DrawnProps {
  make(): L.Layer;
  /** see `useLayer` */
  of: string;
  handlers?: Handlers;
  /** what is said beside it */
  tip?: ReactNode;
  tipOptions?: L.TooltipOptions;
}

/** A line, an area or a circle. */
export function Drawn({ make, of, handlers = {}, tip, tipOptions }: DrawnProps) {
  const layer = useLayer(make, of);
  useEvents(layer, handlers);
  return (
    layer &&
    tip !== undefined && (
      <Tip layer={layer} options={tipOptions}>
        {tip}
      </Tip>
    )
  );
}

/** A mark that may be dragged. It stands where it is said to stand, also after a move that was refused. */
export function Mark({
  at,
  options,
  of,
  handlers = {},
  tip,
  tipOptions,
}: Omit<DrawnProps, 'make'> & { at: L.LatLngTuple; options: L.MarkerOptions }) {
  const mark = useLayer(() => L.marker(at, options), of);
  const isDragged = useRef(false);
  useEvents(mark, {
    ...handlers,
    dragstart: () => (isDragged.current = true),
    dragend: (event) => {
      isDragged.current = false;
      handlers.dragend?.(event);
    },
  });
  useEffect(() => {
    if (!isDragged.current) mark?.setLatLng(at);
  });
  return (
    mark &&
    tip !== undefined && (
      <Tip layer={mark} options={tipOptions}>
        {tip}
      </Tip>
    )
  );
}

/** Words beside a layer, as React draws them. */
function Tip({ layer, options, children }: { layer: L.Layer; options?: L.TooltipOptions; children: ReactNode }) {
  const [words] = useState(() => document.createElement('div'));
  useEffect(() => {
    layer.bindTooltip(words, options);
    return () => void layer.unbindTooltip();
  }, [layer]); // oxlint-disable-line react/exhaustive-deps -- how they stand does not change
  useEffect(() => layer.getTooltip()?.update());
  return createPortal(children, words);
}
