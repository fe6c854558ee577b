import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findLoops, routesFrom, type GraphLink, type TrafficGraph } from './graph';

const link = (id: string, near: string, far: string, mbps: number, more: Partial<GraphLink> = {}): GraphLink => ({
  id,
  near,
  far,
  airId: `air of ${id}`,
  inTurns: true,
  mbps: { nearToFar: mbps, farToNear: mbps / 2 },
  ...more,
});

/** A ferry office with the feed, a hub to two sheds, a chain over a ridge to a cove, and a cable from the cove to a jetty. */
const harbour: TrafficGraph = {
  links: [
    link('hub1', 'ferry', 'shed', 200, { airId: 'hub' }),
    link('hub2', 'ferry', 'yard', 100, { airId: 'hub' }),
    link('up', 'ferry', 'ridge', 60, { airId: 'chain' }),
    link('down', 'ridge', 'cove', 60, { airId: 'chain' }),
  ],
  cables: [{ id: 'jetty cable', a: 'jetty', b: 'cove', mbps: 94 }],
};

describe('the way that traffic takes', () => {
  const routes = routesFrom(harbour, 'ferry', { downMbps: 150, upMbps: 40 });

  it('goes over links and cables to every place that is joined', () => {
    expect([...routes.keys()].sort()).toEqual(['cove', 'jetty', 'ridge', 'shed', 'yard']);
    expect(routes.get('jetty')?.hops.map((h) => h.via)).toEqual(['up', 'down', 'jetty cable']);
    expect(routes.get('jetty')?.hops.at(-1)).toMatchObject({ from: 'cove', to: 'jetty', kind: 'cable' });
  });

  it('is limited by its tightest part, which is named', () => {
    expect(routes.get('shed')).toMatchObject({ toPlaceMbps: 150, toFeedMbps: 40, limit: { kind: 'feed' } });
    expect(routes.get('yard')).toMatchObject({ toPlaceMbps: 100, toFeedMbps: 40, limit: { kind: 'link', id: 'hub2' } });
    expect(routes.get('ridge')).toMatchObject({ toPlaceMbps: 60, limit: { kind: 'link', id: 'up' } });
  });

  it('halves over a relay with one radio, and does not where the second hop has an air of its own', () => {
    expect(routes.get('cove')).toMatchObject({ toPlaceMbps: 30, limit: { kind: 'air', id: 'chain' } });
    const two = { ...harbour, links: harbour.links.map((l) => (l.id === 'down' ? { ...l, airId: 'own' } : l)) };
    expect(routesFrom(two, 'ferry', { downMbps: 150, upMbps: null }).get('cove')?.toPlaceMbps).toBe(60);
  });

  it('reads a link from either end', () => {
    const turned = { links: [link('l', 'shed', 'ferry', 200)], cables: [] };
    expect(routesFrom(turned, 'ferry').get('shed')).toMatchObject({ toPlaceMbps: 100, toFeedMbps: 200 });
  });

  it('leaves out what is not joined', () => {
    expect(routesFrom(harbour, 'nowhere').size).toBe(0);
  });
});

describe('loops', () => {
  it('are found with the way round, and a tree has none', () => {
    expect(findLoops(harbour)).toEqual([]);
    const ring = { ...harbour, links: [...harbour.links, link('short cut', 'cove', 'shed', 300)] };
    expect(findLoops(ring)).toEqual([
      { places: ['cove', 'ridge', 'ferry', 'shed'], edges: ['down', 'up', 'hub1', 'short cut'] },
    ]);
  });

  it('a cable beside a link is one: the classic mistake on the bench', () => {
    const doubled = { ...harbour, cables: [{ id: 'patch', a: 'ferry', b: 'shed', mbps: 941 }] };
    expect(findLoops(doubled)).toEqual([{ places: ['ferry', 'shed'], edges: ['hub1', 'patch'] }]);
  });

  it('number edges less places plus parts, in any graph (Euler)', () => {
    const place = fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f');
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place), { maxLength: 14 }), (pairs) => {
        const links = pairs.filter(([a, b]) => a !== b).map(([a, b], i) => link(String(i), a, b, 1));
        const places = new Set(links.flatMap((l) => [l.near, l.far]));
        let parts = 0;
        const left = new Set(places);
        for (const from of places) {
          if (!left.has(from)) continue;
          parts++;
          for (const reached of [from, ...routesFrom({ links, cables: [] }, from).keys()]) left.delete(reached);
        }
        expect(findLoops({ links, cables: [] })).toHaveLength(links.length - places.size + parts);
      }),
    );
  });
});
