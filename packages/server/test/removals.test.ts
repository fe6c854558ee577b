import type { JobDocument } from '@kivram/contract/jobDocument/document';
import type { Found } from '@kivram/contract/views/find';
import type { JobLinks, JobMapView, RemovalView, TimelineView } from '@kivram/contract/views/job';
import type { LinkView } from '@kivram/contract/views/link';
import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const document = async (): Promise<JobDocument> =>
  (await server.get(`/api/jobs/${server.jobId}/export?secrets=include`)).body as JobDocument;
const map = async (): Promise<JobMapView> => (await server.get(`/api/jobs/${server.jobId}/map`)).body as JobMapView;
const events = async () => ((await server.get(`/api/jobs/${server.jobId}/events`)).body as TimelineView).events;
const lastRemoval = async (): Promise<string> =>
  String((await events()).find((e) => e.detail.removalId)?.detail.removalId);
const undo = (id: string) => server.post(`/api/removals/${id}/undo`);

/** Everything of a job but what a removal and its undoing leave on the timeline, and what counts changes. */
const substance = ({ events: all, exportedAt, network, licences = [], ...rest }: JobDocument): object => {
  void exportedAt;
  const { version, ...site } = network ?? { version: 0 };
  void version;
  return {
    ...rest,
    site,
    licences: licences.map((licence) => ({ ...licence, version: 0 })),
    events: all
      .filter((e) => !e.detail.removalId && !e.detail.undoneRemovalId)
      .map((e) => e.summary)
      // That it was taken along is written down each time.
      .filter((summary) => !summary.startsWith('Took the job along')),
  };
};

describe('a link that is removed', () => {
  it('says before what goes with it', async () => {
    const view = (await server.get(`/api/links/${await server.linkId('Ice works')}/removal`)).body as RemovalView;
    expect(view.what).toBe('the link Ice works');
    expect(view.goes[0]).toBe('1 link');
    expect(view.goes.join()).toMatch(/1 alignment,\d+ readings,\d throughput tests/);
  });

  it('takes its radios and its air, and comes back as it was, to the last reading', async () => {
    const before = await document();
    const { link } = await server.link('Ice works');
    expect((await server.delete(`/api/links/${link.id}?version=${link.version}`)).body).toEqual({ removed: true });
    const without = await document();
    expect(without.links).toHaveLength(before.links.length - 1);
    expect(without.alignments.length).toBeLessThan(before.alignments.length);
    expect((await server.get(`/api/links/${link.id}`)).status).toBe(404);
    expect((await undo(await lastRemoval())).body).toEqual({ back: true });
    expect(substance(await document())).toEqual(substance(before));
    expect((await undo(await lastRemoval())).body.detail).toContain('brought back already');
    const { links } = (await server.get(`/api/jobs/${server.jobId}/links`)).body as JobLinks;
    expect(links.find((l) => l.id === link.id)?.state.steps.map((s) => s.state)).not.toContain('fails');
  });

  it('leaves the hub that others use', async () => {
    const onHub = (await map()).radios.find((r) => r.air.kind === 'hub' && r.role === 'station');
    const views = await Promise.all((await server.links()).map((l) => server.link(l.name)));
    const station = views.find((v) => v.far.radio.id === onHub?.id) as LinkView;
    const hubs = (list: JobMapView) => list.radios.filter((r) => r.id === station.near.radio.id).length;
    await server.delete(`/api/links/${station.link.id}?version=${station.link.version}`);
    const left = await map();
    expect(hubs(left)).toBe(1);
    expect(left.radios.some((r) => r.id === station.far.radio.id)).toBe(false);
    await undo(await lastRemoval());
    expect((await server.link(station.link.name)).air.id).toBe(station.air.id);
  });

  it('goes once, as it was looked at, and not while it is aimed', async () => {
    const { link } = await server.link('Quay crane');
    expect((await server.delete(`/api/links/${link.id}?version=${link.version + 1}`)).status).toBe(409);
    expect((await server.delete(`/api/links/${link.id}`)).body.detail).toContain('Say which version');
    const aim = { nearSource: 'scale', farSource: 'scale', order: 'endByEnd' };
    const ice = await server.link('Ice works');
    const alignment = (await server.post(`/api/links/${ice.link.id}/alignments`, aim)).body as { id: string };
    const refused = await server.delete(`/api/links/${ice.link.id}?version=${ice.link.version}`);
    expect(refused.body.detail).toContain('is being aimed right now');
    await server.post(`/api/alignments/${alignment.id}/abandon`);
    const key = randomUUID();
    const remove = () => server.delete(`/api/links/${link.id}?version=${link.version}`).set('idempotency-key', key);
    expect([(await remove()).status, (await remove()).status]).toEqual([200, 200]);
    await undo(await lastRemoval());
  });

  it('is there or is not for whoever reads or tries it meanwhile: no request breaks on half of it', async () => {
    const answers = new Set<number>();
    for (const { id } of (await server.links()).slice(0, 3)) {
      const { link } = (await server.get(`/api/links/${id}`)).body as LinkView;
      const asks = Array.from({ length: 8 }, () => [
        server.get(`/api/links/${id}`),
        server.post(`/api/links/${id}/bench-runs`),
        server.get(`/api/jobs/${server.jobId}/links`),
      ]).flat();
      asks.splice(6, 0, server.delete(`/api/links/${id}?version=${link.version}`));
      for (const { status } of await Promise.all(asks)) answers.add(status);
      await undo(await lastRemoval());
    }
    expect(answers).toContain(404);
    expect([...answers].filter((status) => ![200, 404, 409].includes(status))).toEqual([]);
  });

  it('does not come back over another of its name, and says so', async () => {
    const { link } = await server.link('Quay crane');
    await server.delete(`/api/links/${link.id}?version=${link.version}`);
    const id = await lastRemoval();
    const ice = await server.link('Ice works');
    await server.patch(`/api/links/${ice.link.id}`, { version: ice.link.version, name: 'Quay crane' });
    expect((await undo(id)).body.detail).toContain('A link of this name exists in this job');
    await server.patch(`/api/links/${ice.link.id}`, { version: ice.link.version + 1, name: 'Ice works' });
    expect((await undo(id)).status).toBe(200);
  });
});

describe('a place that is removed', () => {
  it('stays where it is in use, unless its links are to go too; and the feed comes back to it', async () => {
    const before = await document();
    const place = (await map()).places.find((p) => p.name === 'Ferry office');
    const path = `/api/places/${place?.id ?? ''}`;
    const at = `version=${place?.version ?? 0}`;
    expect((await server.delete(`${path}?${at}`)).body.detail).toContain('carries radios of a link');
    const view = (await server.get(`${path}/removal`)).body as RemovalView;
    expect(view.links.length).toBeGreaterThan(5);
    expect(view.goes.at(-1)).toBe('where the feed comes in');
    expect((await server.delete(`${path}?${at}&with=links`)).status).toBe(200);
    expect((await document()).network?.feedPlaceId).toBeNull();
    // A licence names it no longer, and again when it is back.
    expect((await document()).licences?.[0]?.lowPlaceId).toBeNull();
    await undo(await lastRemoval());
    expect(substance(await document())).toEqual(substance(before));
  });
});

describe('a radio at its place', () => {
  it('gets other gear in its newest revision, another place, and what stands on its label', async () => {
    const { far, link } = await server.link('Quay crane');
    const patch = (changes: object, more = 0) =>
      server.patch(`/api/radios/${far.radio.id}`, { version: far.radio.version + more, ...changes });
    const label = await patch({ serial: 'SN 7', mac: '02-4B-69-00-00-07', note: 'up the ladder' });
    expect(label.body).toMatchObject({ serial: 'SN 7', mac: '02:4b:69:00:00:07', note: 'up the ladder' });
    const places = (await map()).places;
    const at = (name: string): string => places.find((p) => p.name === name)?.id ?? '';
    expect((await patch({ placeId: at('Ferry office') }, 1)).body.detail).toContain('the other end of its link');
    expect((await patch({ placeId: at('Chapel spire') }, 1)).body.detail).toContain('is a landmark');
    expect((await patch({ modelId: 'none' }, 1)).body.detail).toContain('no gear model "none"');
    expect((await patch({ modelRevision: 9 }, 1)).body.detail).toContain('no revision 9');
    expect((await patch({ placeId: at('Slipway store') }, 1)).body).toMatchObject({ placeId: at('Slipway store') });
    const moved = (await server.get(`/api/links/${link.id}`)).body as LinkView;
    expect(moved.far.place.name).toBe('Slipway store');
    expect((await patch({ placeId: at('Quay crane'), serial: null, mac: null }, 2)).body).toMatchObject({
      serial: null,
      mac: null,
    });
  });

  it('follows a newer revision of its spec sheet when it is told to', async () => {
    const { far } = await server.link('Quay crane');
    const { id, ...spec } = far.model;
    await server.put(`/api/models/${id}`, { revision: 1, spec: { ...spec, antennaGainDbi: spec.antennaGainDbi - 2 } });
    const follow = await server.patch(`/api/radios/${far.radio.id}`, { version: far.radio.version, modelRevision: 2 });
    expect(follow.body.modelRevision).toBe(2);
    const { far: after } = await server.link('Quay crane');
    expect(after.model.antennaGainDbi).toBe(spec.antennaGainDbi - 2);
  });
});

describe('near and far', () => {
  it('are exchanged with their needs while nothing is measured, and not after', async () => {
    const { link, near, far } = await server.link('Pump house');
    const swap = (version: number) => server.post(`/api/links/${link.id}/swap`, { version });
    const first = await swap(link.version);
    if (first.status === 200) {
      const view = first.body as LinkView;
      expect([view.near.radio.id, view.far.radio.id]).toEqual([far.radio.id, near.radio.id]);
      expect(view.link.needNearToFarMbps).toBe(link.needFarToNearMbps);
    }
    const ice = await server.link('Ice works');
    expect((await server.post(`/api/links/${ice.link.id}/swap`, { version: ice.link.version })).body.detail).toContain(
      'told by near and far',
    );
    const crane = await server.link('Quay crane');
    const turned = (await server.post(`/api/links/${crane.link.id}/swap`, { version: crane.link.version }))
      .body as LinkView;
    expect(turned.near.place.name).toBe(crane.far.place.name);
    expect(turned.link).toMatchObject({
      needNearToFarMbps: crane.link.needFarToNearMbps,
      needFarToNearMbps: crane.link.needNearToFarMbps,
    });
  });
});

describe('what is found', () => {
  const find = async (text: string): Promise<Found[]> =>
    (await server.get(`/api/find?text=${encodeURIComponent(text)}&job=${server.jobId}`)).body as Found[];

  it.each([
    ['ice', 'link', 'Ice works'],
    ['spire', 'place', 'Chapel spire'],
    ['tessary', 'job', 'Tessary harbour'],
    ['10.61.4.20', 'device', 'camera recorder'],
    ['02-4b-69-10-00-21', 'device', 'quay camera'],
    ['span', 'model', 'Brinmoor Span 25'],
  ])('by %j is a %s', async (text, kind, name) => {
    expect((await find(text)).find((f) => f.kind === kind)?.name).toBe(name);
  });

  it('is a radio by its address, the link that it serves beside it', async () => {
    const { near, link } = await server.link('Ice works');
    const found = (await find(near.sheet?.sheet.address ?? '')).filter((f) => f.kind === 'radio');
    expect(found).toHaveLength(1);
    expect(found[0]).toMatchObject({ id: near.radio.id, linkId: link.id });
  });

  it('is nothing for nothing, and no mark means anything', async () => {
    expect(await find('  ')).toEqual([]);
    for (const text of ['%', '_', '\\', "'", 'x'.repeat(500)]) expect(await find(text), text).toEqual([]);
  });
});
