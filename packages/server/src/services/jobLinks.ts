import type { Cable } from '@kivram/contract/entities/need';
import type { JobLinks, LinkSummary, MapLink, NextMatter, TrafficView, Urgent } from '@kivram/contract/views/job';
import { findLoops, routesFrom, type FeedRate, type GraphLink, type Route } from '@kivram/core/topology/graph';
import { steps, worstState } from '@kivram/core/verdict/steps';
import { NetworkRow } from '../database/models/network';
import { PlaceRow } from '../database/models/place';
import { cablesOf, graphCables } from './cables';
import type { LinkLine, LinkMemos } from './linkMemos';

/** How many of the most urgent matters a job's first screen shows. */
const urgentShown = 20;

export interface Page {
  offset: number;
  limit: number;
  /** shows only links whose name or places hold this text */
  find: string;
}

/** A part of a job's links, what is wrong and what is next among all of them, and where the traffic of the shown places goes. */
export async function jobLinks(memos: LinkMemos, jobId: string, page: Page): Promise<JobLinks> {
  const [lines, network, cables] = await Promise.all([
    memos.lines(jobId),
    NetworkRow.findOne({ where: { jobId } }),
    cablesOf(jobId),
  ]);
  const ends = cables.flatMap(({ aPlaceId, bPlaceId }) => [aPlaceId, bPlaceId]);
  const joined = ends.length ? await PlaceRow.findAll({ where: { id: ends }, attributes: ['id', 'name'] }) : [];
  const wanted = page.find.trim().toLowerCase();
  const found = wanted
    ? lines.filter((l) => [l.name, l.nearPlace, l.farPlace].some((text) => text.toLowerCase().includes(wanted)))
    : lines;
  const shown = found.slice(page.offset, page.offset + page.limit);
  return {
    total: found.length,
    all: lines.length,
    offset: page.offset,
    links: shown.map(summaryOf),
    wrong: wrongOf(lines),
    next: nextOf(lines),
    ...trafficOf(lines, shown, network, cables, joined),
  };
}

export function summaryOf({ memo, ...line }: LinkLine): LinkSummary {
  const { id, name, nearPlaceId, farPlaceId, nearPlace, farPlace } = line;
  return { id, name, nearPlaceId, farPlaceId, nearPlace, farPlace, distanceM: memo.distanceM, state: memo.state };
}

export function mapLinkOf({ id, name, nearPlaceId, farPlaceId, memo }: LinkLine): MapLink {
  return { id, name, nearPlaceId, farPlaceId, state: worstState(memo.state.steps) };
}

/** Whatever fails, then whatever is thin. */
function wrongOf(lines: readonly LinkLine[]): Urgent {
  const matters = lines.flatMap((line) =>
    line.memo.state.steps
      .filter((s) => (s.state === 'fails' || s.state === 'thin') && s.step !== 'record')
      .map(({ step, state, because }) => ({ linkId: line.id, name: line.name, step, state, because })),
  );
  matters.sort((a, b) => Number(a.state === 'thin') - Number(b.state === 'thin'));
  return { count: matters.length, first: matters.slice(0, urgentShown) };
}

/** The next step of every link, those that are furthest first: what is begun is to be ended. */
function nextOf(lines: readonly LinkLine[]): Urgent<NextMatter> {
  const matters = lines.flatMap((line): NextMatter[] => {
    const { next } = line.memo.state;
    if (!next) return [];
    const { step, state, task, why, end } = next;
    const where = end && { end, place: end === 'near' ? line.nearPlace : line.farPlace };
    return [{ linkId: line.id, name: line.name, step, state, task, why, where }];
  });
  matters.sort((a, b) => steps.indexOf(b.step) - steps.indexOf(a.step));
  return { count: matters.length, first: matters.slice(0, urgentShown) };
}

/** Where the traffic of the places in a list goes, and every ring in the job. */
function trafficOf(
  lines: readonly LinkLine[],
  shown: readonly LinkLine[],
  network: NetworkRow | null,
  cables: readonly Cable[],
  joined: readonly PlaceRow[],
): Pick<JobLinks, 'traffic' | 'loops'> {
  const links = lines.map((line): GraphLink => ({
    id: line.id,
    near: line.nearPlaceId,
    far: line.farPlaceId,
    airId: line.airId,
    inTurns: line.kind !== 'duplex',
    mbps: line.memo.aloneMbps,
  }));
  const placeName = new Map([
    ...joined.map(({ id, name }) => [id, name] as const),
    ...lines.flatMap(
      (l) =>
        [
          [l.nearPlaceId, l.nearPlace],
          [l.farPlaceId, l.farPlace],
        ] as const,
    ),
  ]);
  const linkName = new Map([...lines, ...cables].map((l) => [l.id, l.name]));
  const graph = { links, cables: graphCables(cables) };
  const loops = findLoops(graph).map(
    ({ places, edges }) =>
      `${places.map((id) => placeName.get(id) ?? '').join(', ')} form a ring over ${edges.map((id) => linkName.get(id) ?? '').join(', ')}: frames would run round in it for ever. Take one link out of service, or let the switches block it.`,
  );
  const feedPlaceId = network?.feedPlaceId;
  if (!feedPlaceId) return { traffic: [], loops };
  const rate: FeedRate = { downMbps: network.feedDownMbps, upMbps: network.feedUpMbps };
  const routes = routesFrom(graph, feedPlaceId, rate);
  const placeIds = [
    ...new Set([...shown.flatMap((l) => [l.nearPlaceId, l.farPlaceId]), ...joined.map(({ id }) => id)]),
  ];
  const traffic = placeIds.flatMap((placeId): TrafficView[] => {
    const route = routes.get(placeId);
    if (!route) return [];
    return [
      {
        placeId,
        place: placeName.get(placeId) ?? '',
        way: [feedPlaceId, ...route.hops.map((hop) => hop.to)].map((id) => placeName.get(id) ?? ''),
        toPlaceMbps: route.toPlaceMbps,
        toFeedMbps: route.toFeedMbps,
        limit: limitWords(route.limit, linkName),
      },
    ];
  });
  return { traffic, loops };
}

function limitWords({ kind, id }: Route['limit'], linkName: ReadonlyMap<string, string>): string {
  if (kind === 'feed') return 'the feed';
  if (kind === 'air') return 'relays that share one channel';
  return `${kind === 'cable' ? 'the cable' : 'the link'} ${linkName.get(id) ?? ''}`.trim();
}
