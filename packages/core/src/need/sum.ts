import { routesFrom, type TrafficGraph } from '../topology/graph';
import { activities, type NeedItem, type PlaceNeed } from './activity';

/** What a place needs each way, Mbit/s: all its items at once as far as they run at once, with growth and headroom. */
export interface NeedEachWay {
  toMbps: number;
  fromMbps: number;
}

/** One item of a place, added up. */
export function itemNeed(
  { count, toMbps, fromMbps }: NeedItem,
  need: Omit<PlaceNeed, 'items' | 'placeId'>,
): NeedEachWay {
  const factor = count * need.simultaneity * (1 + need.growthPercent / 100) * (1 + need.headroomPercent / 100);
  return { toMbps: toMbps * factor, fromMbps: fromMbps * factor };
}

/** All items of a place. */
export function placeNeed(need: PlaceNeed): NeedEachWay {
  let [toMbps, fromMbps] = [0, 0];
  for (const item of need.items) {
    const own = itemNeed(item, need);
    toMbps += own.toMbps;
    fromMbps += own.fromMbps;
  }
  return { toMbps, fromMbps };
}

/** What must cross one link. */
export interface LinkNeed {
  nearToFarMbps: number;
  farToNearMbps: number;
  /** places whose traffic crosses it */
  places: string[];
}

/** Something that does not let through what is asked of it. */
export interface NeedLimit {
  kind: 'feed' | 'adapter' | 'cable' | 'air' | 'unreached';
  /** place, cable, or air */
  id: string;
  neededMbps: number;
  /** what there is; of an air: what its need takes of its time, 1 is all of it */
  has: number;
}

export interface NeedSum {
  /** by link */
  links: Map<string, LinkNeed>;
  /** share of its time that each air needs, 1 is all of it */
  airLoad: Map<string, number>;
  limits: NeedLimit[];
  /** through the feed, each way */
  feed: NeedEachWay;
}

/** Of an air's time more than this is little room for frames that have to be sent again (common practice, no source). */
const busyShare = 0.8;

/** Whether an air carries what it is asked to: with room, hardly, or not. */
export function airRoom(load: number): 'room' | 'hardly' | 'none' {
  if (load > 1) return 'none';
  return load > busyShare ? 'hardly' : 'room';
}

/** The site that needs are added up in. */
export interface NeedSite {
  graph: TrafficGraph;
  feedPlaceId: string | null;
  feedDownMbps: number | null;
  feedUpMbps: number | null;
}

/**
 * Adds up what every place needs along the links and cables that its traffic takes, hop by hop and direction by direction, and finds what does not let it through: the feed,
 * adapters before the radios, and airs whose time is used up.
 */
export function sumNeeds(site: NeedSite, needs: readonly PlaceNeed[]): NeedSum {
  const { graph, feedPlaceId } = site;
  const links = new Map(graph.links.map((link) => [link.id, link]));
  const sum: NeedSum = {
    links: new Map(graph.links.map(({ id }) => [id, { nearToFarMbps: 0, farToNearMbps: 0, places: [] }])),
    airLoad: new Map(),
    limits: [],
    feed: { toMbps: 0, fromMbps: 0 },
  };
  /** what goes to and from the devices of each place, whoever asked for it */
  const devices = new Map<string, NeedEachWay>();
  /** what crosses each cable, each way */
  const cables = new Map(graph.cables.map(({ id }) => [id, { toMbps: 0, fromMbps: 0 }]));
  const routes = new Map<string, ReturnType<typeof routesFrom>>();
  const routesOf = (from: string): ReturnType<typeof routesFrom> => {
    const known = routes.get(from) ?? routesFrom(graph, from);
    routes.set(from, known);
    return known;
  };
  for (const need of needs) {
    let unreachedMbps = 0;
    for (const item of need.items) {
      const own = itemNeed(item, need);
      const toward = item.towardPlaceId ?? feedPlaceId;
      if (toward === feedPlaceId) {
        sum.feed.toMbps += own.toMbps;
        sum.feed.fromMbps += own.fromMbps;
      }
      if (toward === need.placeId) continue;
      addTo(devices, need.placeId, own);
      if (toward !== null) addTo(devices, toward, { toMbps: own.fromMbps, fromMbps: own.toMbps });
      const hops = toward === null ? undefined : routesOf(toward).get(need.placeId)?.hops;
      if (!hops) {
        unreachedMbps += own.toMbps + own.fromMbps;
        continue;
      }
      for (const hop of hops) {
        const cable = cables.get(hop.via);
        if (cable) {
          cable.toMbps += own.toMbps;
          cable.fromMbps += own.fromMbps;
        }
        const link = links.get(hop.via);
        const crossing = sum.links.get(hop.via);
        if (!link || !crossing) continue;
        const outward = link.near === hop.from;
        crossing.nearToFarMbps += outward ? own.toMbps : own.fromMbps;
        crossing.farToNearMbps += outward ? own.fromMbps : own.toMbps;
        if (!crossing.places.includes(need.placeId)) crossing.places.push(need.placeId);
      }
    }
    if (unreachedMbps > 0) sum.limits.push({ kind: 'unreached', id: need.placeId, neededMbps: unreachedMbps, has: 0 });
  }
  for (const { id, airId, inTurns, mbps } of graph.links) {
    const crossing = sum.links.get(id);
    if (!crossing) continue;
    const share = (neededMbps: number, has: number): number => (neededMbps > 0 ? neededMbps / has : 0);
    const out = share(crossing.nearToFarMbps, mbps.nearToFar);
    const home = share(crossing.farToNearMbps, mbps.farToNear);
    // What does not take turns is used up by the busier direction alone.
    const load = inTurns ? out + home : Math.max(out, home);
    sum.airLoad.set(airId, (sum.airLoad.get(airId) ?? 0) + load);
  }
  for (const [id, load] of sum.airLoad)
    if (airRoom(load) === 'none') sum.limits.push({ kind: 'air', id, neededMbps: load, has: 1 });
  for (const { id, mbps: has } of graph.cables) {
    const crossing = cables.get(id);
    const neededMbps = Math.max(crossing?.toMbps ?? 0, crossing?.fromMbps ?? 0);
    if (neededMbps > has) sum.limits.push({ kind: 'cable', id, neededMbps, has });
  }
  limitsOfFeed(site, sum);
  for (const need of needs) {
    if (need.adapterMbps === null) continue;
    // At the feed everything that goes over the links passes the adapter.
    const passes = need.placeId === feedPlaceId ? overLinks(sum, site) : (devices.get(need.placeId) ?? nothing);
    const neededMbps = Math.max(passes.toMbps, passes.fromMbps);
    if (neededMbps > need.adapterMbps)
      sum.limits.push({ kind: 'adapter', id: need.placeId, neededMbps, has: need.adapterMbps });
  }
  return sum;
}

const nothing: NeedEachWay = { toMbps: 0, fromMbps: 0 };

function addTo(places: Map<string, NeedEachWay>, placeId: string, { toMbps, fromMbps }: NeedEachWay): void {
  const known = places.get(placeId) ?? nothing;
  places.set(placeId, { toMbps: known.toMbps + toMbps, fromMbps: known.fromMbps + fromMbps });
}

function limitsOfFeed({ feedPlaceId, feedDownMbps, feedUpMbps }: NeedSite, { feed, limits }: NeedSum): void {
  if (feedPlaceId === null) return;
  const check = (neededMbps: number, has: number | null): void => {
    if (has !== null && neededMbps > has) limits.push({ kind: 'feed', id: feedPlaceId, neededMbps, has });
  };
  check(feed.toMbps, feedDownMbps);
  check(feed.fromMbps, feedUpMbps);
}

/** What goes from the place of the feed over its own links, each way. */
function overLinks({ links }: NeedSum, { graph, feedPlaceId }: NeedSite): NeedEachWay {
  let [toMbps, fromMbps] = [0, 0];
  for (const { id, near, far } of graph.links) {
    const crossing = links.get(id);
    if (!crossing || (near !== feedPlaceId && far !== feedPlaceId)) continue;
    toMbps += near === feedPlaceId ? crossing.nearToFarMbps : crossing.farToNearMbps;
    fromMbps += near === feedPlaceId ? crossing.farToNearMbps : crossing.nearToFarMbps;
  }
  return { toMbps, fromMbps };
}

/** An item as it begins: what its kind usually needs. */
export function usualItem(kind: NeedItem['kind']): NeedItem {
  const { toMbps, fromMbps } = activities[kind];
  return { kind, count: 1, toMbps, fromMbps, towardPlaceId: null };
}
