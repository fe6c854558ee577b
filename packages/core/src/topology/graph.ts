import { relayedMbps } from '../air/airtime';

/** A link between two places, as traffic sees it. */
export interface GraphLink {
  id: string;
  near: string;
  far: string;
  /** links on one air with directions in turns share its time */
  airId: string;
  /** whether its air is used one at a time; a licensed pair's directions are not */
  inTurns: boolean;
  /** TCP payload alone, Mbit/s */
  mbps: { nearToFar: number; farToNear: number };
}

/** A cable between two places, with the rate of its ports. Radios at one place are joined by a switch and need none. */
export interface GraphCable {
  id: string;
  a: string;
  b: string;
  mbps: number;
}

/** Places with the links and cables between them. */
export interface TrafficGraph {
  links: readonly GraphLink[];
  cables: readonly GraphCable[];
}

/** One hop of a route, in the direction away from the feed. */
export interface RouteHop {
  from: string;
  to: string;
  /** id of the link or cable */
  via: string;
  kind: 'link' | 'cable';
}

/** What the feed delivers to the site, and takes from it. */
export interface FeedRate {
  downMbps: number | null;
  upMbps: number | null;
}

/** The way from the feed to a place, with what passes and what limits it. */
export interface Route {
  hops: RouteHop[];
  /** towards the place, and back */
  toPlaceMbps: number;
  toFeedMbps: number;
  /** what limits towards the place: a link, a cable, an air whose relays share its time, or the feed */
  limit: { kind: 'link' | 'cable' | 'air' | 'feed'; id: string };
}

/** A ring of links and cables: frames would run round in it for ever. */
export interface Loop {
  places: string[];
  edges: string[];
}

interface Edge {
  id: string;
  kind: 'link' | 'cable';
  a: string;
  b: string;
}

function edgesOf({ links, cables }: TrafficGraph): Edge[] {
  return [
    ...links.map(({ id, near, far }): Edge => ({ id, kind: 'link', a: near, b: far })),
    ...cables.map(({ id, a, b }): Edge => ({ id, kind: 'cable', a, b })),
  ];
}

/**
 * The ways that traffic takes from the feed to every place that it reaches: fewest hops first, as a bridged network without loops has only one.
 * @param rate of the feed, where it is known
 */
export function routesFrom(
  graph: TrafficGraph,
  feed: string,
  rate: FeedRate = { downMbps: null, upMbps: null },
): Map<string, Route> {
  const at = new Map<string, Edge[]>();
  for (const edge of edgesOf(graph)) {
    listAt(at, edge.a).push(edge);
    listAt(at, edge.b).push(edge);
  }
  const hopsTo = new Map<string, RouteHop[]>([[feed, []]]);
  const queue = [feed];
  for (let place = queue.shift(); place !== undefined; place = queue.shift()) {
    for (const edge of at.get(place) ?? []) {
      const to = edge.a === place ? edge.b : edge.a;
      if (hopsTo.has(to)) continue;
      hopsTo.set(to, [...(hopsTo.get(place) ?? []), { from: place, to, via: edge.id, kind: edge.kind }]);
      queue.push(to);
    }
  }
  const parts = indexOf(graph);
  const routes = new Map<string, Route>();
  for (const [place, hops] of hopsTo) if (place !== feed) routes.set(place, routeOver(hops, parts, feed, rate));
  return routes;
}

interface Parts {
  links: Map<string, GraphLink>;
  cables: Map<string, GraphCable>;
}

function indexOf({ links, cables }: TrafficGraph): Parts {
  return { links: new Map(links.map((l) => [l.id, l])), cables: new Map(cables.map((c) => [c.id, c])) };
}

function routeOver(hops: RouteHop[], { links, cables }: Parts, feed: string, rate: FeedRate): Route {
  const limits: { kind: Route['limit']['kind']; id: string; there: number; back: number }[] = [];
  if (rate.downMbps !== null || rate.upMbps !== null)
    limits.push({ kind: 'feed', id: feed, there: rate.downMbps ?? Infinity, back: rate.upMbps ?? Infinity });
  /** Hops of the route that take turns on one air cost each other time, wherever on the route they are. */
  const onAir = new Map<string, { id: string; there: number; back: number }[]>();
  for (const hop of hops) {
    const cable = cables.get(hop.via);
    if (cable) limits.push({ kind: 'cable', id: cable.id, there: cable.mbps, back: cable.mbps });
    const link = links.get(hop.via);
    if (!link) continue;
    const outward = link.near === hop.from;
    const there = outward ? link.mbps.nearToFar : link.mbps.farToNear;
    const back = outward ? link.mbps.farToNear : link.mbps.nearToFar;
    const channel = link.inTurns ? link.airId : `${link.airId} ${link.id}`;
    listAt(onAir, channel).push({ id: link.id, there, back });
  }
  for (const [air, members] of onAir) {
    const [only] = members;
    limits.push(
      members.length === 1 && only
        ? { kind: 'link', ...only }
        : {
            kind: 'air',
            id: air,
            there: relayedMbps(members.map((m) => m.there)),
            back: relayedMbps(members.map((m) => m.back)),
          },
    );
  }
  const tightest = limits.reduce(
    (a, b) => (b.there < a.there ? b : a),
    limits[0] ?? { kind: 'feed', id: feed, there: Infinity, back: Infinity },
  );
  return {
    hops,
    toPlaceMbps: tightest.there,
    toFeedMbps: Math.min(...limits.map((l) => l.back)),
    limit: { kind: tightest.kind, id: tightest.id },
  };
}

/** Rings of links and cables, one for each link or cable too many. */
export function findLoops(graph: TrafficGraph): Loop[] {
  const tree = new Map<string, { to: string; via: string }[]>();
  /** which place stands for all that are joined with a place; most links join new places, and then no way need be looked for */
  const stands = new Map<string, string>();
  const standFor = (place: string): string => {
    const next = stands.get(place);
    if (next === undefined || next === place) return place;
    const last = standFor(next);
    stands.set(place, last);
    return last;
  };
  const loops: Loop[] = [];
  for (const edge of edgesOf(graph)) {
    if (edge.a === edge.b) continue;
    const [left, right] = [standFor(edge.a), standFor(edge.b)];
    if (left === right) {
      const way = wayBetween(tree, edge.a, edge.b);
      if (way) loops.push({ places: way.places, edges: [...way.edges, edge.id] });
      continue;
    }
    stands.set(left, right);
    listAt(tree, edge.a).push({ to: edge.b, via: edge.id });
    listAt(tree, edge.b).push({ to: edge.a, via: edge.id });
  }
  return loops;
}

/** The list kept under a key, made when it is first asked for. */
function listAt<Item>(lists: Map<string, Item[]>, key: string): Item[] {
  const known = lists.get(key);
  if (known) return known;
  const made: Item[] = [];
  lists.set(key, made);
  return made;
}

/** The only way between two places in a tree; undefined where there is none. */
function wayBetween(
  tree: Map<string, { to: string; via: string }[]>,
  from: string,
  to: string,
): { places: string[]; edges: string[] } | undefined {
  const cameFrom = new Map<string, { place: string; via: string } | null>([[from, null]]);
  const queue = [from];
  for (let place = queue.shift(); place !== undefined; place = queue.shift()) {
    if (place === to) break;
    for (const next of tree.get(place) ?? []) {
      if (cameFrom.has(next.to)) continue;
      cameFrom.set(next.to, { place, via: next.via });
      queue.push(next.to);
    }
  }
  if (!cameFrom.has(to)) return undefined;
  const places = [to];
  const edges: string[] = [];
  for (let step = cameFrom.get(to); step; step = cameFrom.get(step.place)) {
    places.unshift(step.place);
    edges.unshift(step.via);
  }
  return { places, edges };
}
