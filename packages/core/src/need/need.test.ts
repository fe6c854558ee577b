import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { activities, doubtRate, type PlaceNeed } from './activity';
import { itemNeed, placeNeed, sumNeeds, usualItem, type NeedSite } from './sum';
import type { GraphLink } from '../topology/graph';

const link = (id: string, near: string, far: string, airId = id, mbps = 100): GraphLink => ({
  id,
  near,
  far,
  airId,
  inTurns: true,
  mbps: { nearToFar: mbps, farToNear: mbps },
});
const need = (placeId: string, changes: Partial<PlaceNeed> = {}): PlaceNeed => ({
  placeId,
  items: [],
  simultaneity: 1,
  growthPercent: 0,
  headroomPercent: 0,
  adapterMbps: null,
  ...changes,
});
const site = (links: GraphLink[], changes: Partial<NeedSite> = {}): NeedSite => ({
  graph: { links, cables: [] },
  feedPlaceId: 'office',
  feedDownMbps: null,
  feedUpMbps: null,
  ...changes,
});
const camera = { ...usualItem('camera'), toMbps: 0, fromMbps: 8 };

describe('what a place needs', () => {
  it('begins with the rules of thumb (common practice, no source)', () => {
    expect(activities.stream4k.toMbps).toBe(20);
    expect(activities.browsing.toMbps).toBeGreaterThanOrEqual(5);
    expect(activities.browsing.toMbps).toBeLessThanOrEqual(10);
    expect(activities.audio.toMbps).toBeLessThan(1);
    expect(activities.camera.fromMbps).toBeGreaterThanOrEqual(2);
    expect(activities.camera.fromMbps).toBeLessThanOrEqual(8);
  });

  it('is count times rate times what runs at once, with growth and headroom on top', () => {
    const four = need('quay', {
      items: [{ ...camera, count: 4 }],
      simultaneity: 0.75,
      growthPercent: 50,
      headroomPercent: 25,
    });
    expect(placeNeed(four).fromMbps).toBeCloseTo(4 * 8 * 0.75 * 1.5 * 1.25, 9);
    expect(itemNeed(camera, four).toMbps).toBe(0);
  });
});

describe('needs along the graph', () => {
  const chain = [link('a', 'office', 'ridge', 'chain'), link('b', 'cove', 'ridge', 'chain')];

  it('cross every hop on their way, each in its direction, whichever end is called near', () => {
    const { links } = sumNeeds(site(chain), [
      need('cove', { items: [{ ...usualItem('browsing'), toMbps: 8, fromMbps: 1 }] }),
    ]);
    expect(links.get('a')).toEqual({ nearToFarMbps: 8, farToNearMbps: 1, places: ['cove'] });
    expect(links.get('b')).toEqual({ nearToFarMbps: 1, farToNearMbps: 8, places: ['cove'] });
  });

  it('a chain spends its time once for each hop: 30 Mbit/s over two hops of 100 take 60 %', () => {
    const { airLoad, limits } = sumNeeds(site(chain), [need('cove', { items: [{ ...camera, fromMbps: 30 }] })]);
    expect(airLoad.get('chain')).toBeCloseTo(0.6, 9);
    expect(limits).toEqual([]);
    const full = sumNeeds(site(chain), [need('cove', { items: [{ ...camera, fromMbps: 60 }] })]);
    expect(full.limits).toEqual([{ kind: 'air', id: 'chain', neededMbps: expect.closeTo(1.2, 6) as number, has: 1 }]);
  });

  it('go to a recorder where there is one, and then not through the feed', () => {
    const spokes = [link('q', 'office', 'quay'), link('r', 'office', 'recorder')];
    const { links, feed } = sumNeeds(site(spokes), [
      need('quay', { items: [{ ...camera, towardPlaceId: 'recorder' }] }),
    ]);
    expect(links.get('q')?.farToNearMbps).toBe(8);
    expect(links.get('r')?.nearToFarMbps).toBe(8);
    expect(feed.fromMbps).toBe(0);
  });

  it('meet the feed and the adapter before the radio as limits of their own', () => {
    const one = [link('q', 'office', 'quay', 'q', 500)];
    const streams = need('quay', { items: [{ ...usualItem('stream4k'), count: 5 }] });
    const { limits } = sumNeeds(site(one, { feedDownMbps: 80, feedUpMbps: 40 }), [
      streams,
      need('office', { adapterMbps: 60 }),
    ]);
    expect(limits).toEqual([
      { kind: 'feed', id: 'office', neededMbps: 100, has: 80 },
      { kind: 'adapter', id: 'office', neededMbps: 100, has: 60 },
    ]);
  });

  it('pass the adapter of the place that they go to as well as of the one that they come from', () => {
    const spokes = [link('q', 'office', 'quay'), link('r', 'office', 'recorder')];
    const cameras = need('quay', { items: [{ ...camera, count: 6, towardPlaceId: 'recorder' }] });
    const local = { ...camera, towardPlaceId: 'recorder' };
    const { limits } = sumNeeds(site(spokes), [cameras, need('recorder', { items: [local], adapterMbps: 40 })]);
    // Six cameras of 8 Mbit/s arrive; the one that stands beside the recorder does not come over the radio.
    expect(limits).toEqual([{ kind: 'adapter', id: 'recorder', neededMbps: 48, has: 40 }]);
  });

  it('take a cable as they take a link, and a slow one is a limit', () => {
    const quay = [link('q', 'office', 'quay')];
    const cables = [{ id: 'patch', a: 'shed', b: 'quay', mbps: 20 }];
    const streams = need('shed', { items: [{ ...usualItem('stream4k'), count: 2, fromMbps: 0 }] });
    const sum = sumNeeds({ ...site(quay), graph: { links: quay, cables } }, [streams]);
    expect(sum.links.get('q')).toEqual({ nearToFarMbps: 40, farToNearMbps: 0, places: ['shed'] });
    expect(sum.limits).toEqual([{ kind: 'cable', id: 'patch', neededMbps: 40, has: 20 }]);
  });

  it('say where nothing leads', () => {
    expect(sumNeeds(site([]), [need('island', { items: [camera] })]).limits).toEqual([
      { kind: 'unreached', id: 'island', neededMbps: 8, has: 0 },
    ]);
  });

  it('lose nothing: what the feed carries is what crosses its own links, in any tree', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(), fc.boolean(), fc.integer({ min: 0, max: 9 })), { minLength: 1, maxLength: 12 }),
        (shape) => {
          const names = ['office', ...shape.map((_, i) => `p${i}`)];
          const links = shape.map(([to, turned], i) => {
            const parent = names[to % (i + 1)] ?? 'office';
            return turned ? link(`l${i}`, `p${i}`, parent) : link(`l${i}`, parent, `p${i}`);
          });
          const needs = shape.map(([, , count], i) => need(`p${i}`, { items: [{ ...usualItem('browsing'), count }] }));
          const { links: crossing, feed } = sumNeeds(site(links), needs);
          let down = 0;
          for (const { id, near, far } of links) {
            if (near === 'office') down += crossing.get(id)?.nearToFarMbps ?? 0;
            if (far === 'office') down += crossing.get(id)?.farToNearMbps ?? 0;
          }
          expect(down).toBeCloseTo(feed.toMbps, 6);
        },
      ),
    );
  });
});

describe('a rate that was hardly meant', () => {
  it('is a headline rate taken for a need', () => {
    expect(doubtRate('other', 867)?.words).toContain('rate on air');
    expect(doubtRate('other', 866.7)?.likelyMbps).toBe(607);
    expect(doubtRate('other', 900)).toBeUndefined();
  });

  it('or kilobits, or all of them together', () => {
    expect(doubtRate('camera', 6000)).toMatchObject({ likelyMbps: 6 });
    expect(doubtRate('camera', 32)?.words).toContain('all of them together');
    expect(doubtRate('camera', 8)).toBeUndefined();
  });
});
