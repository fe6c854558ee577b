import type { Job } from '@kivram/contract/entities/job';
import type { JobDocument } from '@kivram/contract/jobDocument/document';
import type { JobLinks, JobMapView, JobView, SiteNetwork, TimelineView } from '@kivram/contract/views/job';
import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const body = (changes: object = {}): object => ({
  name: `Mill farm ${randomUUID().slice(0, 8)}`,
  customer: 'J. Miller',
  country: 'PT',
  units: 'imperial',
  workerName: 'Ada Lowe',
  ...changes,
});
const begin = async (changes: object = {}): Promise<Job> => (await server.post('/api/jobs', body(changes))).body as Job;
const view = async (id: string): Promise<JobView> => (await server.get(`/api/jobs/${id}`)).body as JobView;

describe('a new job', () => {
  it('is empty, led by whoever makes it, and no practice', async () => {
    const job = await begin();
    expect(job).toMatchObject({
      customer: 'J. Miller',
      country: 'PT',
      units: 'imperial',
      practice: false,
      archivedAt: null,
    });
    const seen = await view(job.id);
    expect(seen.crew.map((member) => member.name)).toEqual(['Ada Lowe']);
    expect(seen).toMatchObject({ network: null, devices: [] });
    expect((await server.get('/api/session')).body.members[job.id]).toEqual({
      id: seen.crew[0]?.id,
      role: 'lead',
    });
    const links = (await server.get(`/api/jobs/${job.id}/links`)).body as JobLinks;
    expect(links).toMatchObject({ all: 0, links: [], traffic: [] });
    const { events } = (await server.get(`/api/jobs/${job.id}/events`)).body as TimelineView;
    expect(events.map((e) => e.summary)).toEqual(['Began the job']);
  });

  it('is one job, also when it is asked for twice under one id', async () => {
    const id = randomUUID();
    const same = body();
    const ask = () => server.post('/api/jobs', same).set('idempotency-key', id);
    const [first, second] = [await ask(), await ask()];
    expect(second.body.id).toBe(first.body.id);
    const jobs = (await server.get('/api/jobs')).body as Job[];
    expect(jobs.filter((job) => job.name === first.body.name)).toHaveLength(1);
  });

  it.each<[string, object, string]>([
    [
      'a name that is taken, whatever its capitals',
      { name: 'TESSARY harbour' },
      'A job called TESSARY harbour is here already',
    ],
    ['no name', { name: '' }, 'name must be text of 1 to 80'],
    ['a country in words', { country: 'Portugal' }, 'two capital letters'],
    ['nobody who makes it', { workerName: '' }, 'your name must be text'],
    ['units of its own', { units: 'furlongs' }, 'units is "furlongs"'],
    ['a plan of nowhere', { copyOf: '00000000-0000-4000-8000-000000000000' }, 'no such job'],
  ])('is refused with %s', async (_, changes, words) => {
    const answer = await server.post('/api/jobs', body(changes));
    expect(answer.status).toBeGreaterThanOrEqual(400);
    expect(answer.body.detail).toContain(words);
  });

  it('can begin with the plan of another, without what was measured, set or delivered there', async () => {
    const copy = await begin({ copyOf: server.jobId, country: 'XT' });
    const [from, to] = await Promise.all(
      [server.jobId, copy.id].map(async (id) => (await server.get(`/api/jobs/${id}/export`)).body as JobDocument),
    );
    if (!from || !to) throw new Error('no documents');
    expect(to.job).toMatchObject({ name: copy.name, customer: 'J. Miller', practice: false });
    for (const list of ['places', 'airs', 'radios', 'links', 'obstacles'] as const)
      expect(to[list]?.length, list).toBe(from[list]?.length);
    expect(to.network?.subnets).toEqual(from.network?.subnets);
    for (const list of ['sheets', 'benchRuns', 'alignments', 'tests', 'devices'] as const)
      expect(to[list], list).toEqual([]);
    expect(from.radios.some((r) => r.mac)).toBe(true);
    for (const radio of to.radios) expect(radio).toMatchObject({ mac: null, serial: null, mountedAt: null });
    const ids = new Set(from.radios.map((r) => r.id));
    expect(to.radios.some((r) => ids.has(r.id))).toBe(false);
    const { links } = (await server.get(`/api/jobs/${copy.id}/links`)).body as JobLinks;
    expect(links[0]?.state.steps.find((s) => s.step === 'bench')?.state).toBe('open');
  });
});

describe('a job that is there', () => {
  it('is renamed, moved to another law, put away and taken up again, each on the timeline', async () => {
    const job = await begin();
    const patch = (changes: object) => server.patch(`/api/jobs/${job.id}`, changes);
    const renamed = await patch({ version: job.version, name: `${job.name} north`, country: 'ES' });
    expect(renamed.body).toMatchObject({ name: `${job.name} north`, country: 'ES', version: job.version + 1 });
    expect((await patch({ version: job.version, name: 'late' })).status).toBe(409);
    const away = await patch({ version: renamed.body.version, archived: true });
    expect(away.body.archivedAt).toBeTruthy();
    const back = await patch({ version: away.body.version, archived: false });
    expect(back.body.archivedAt).toBeNull();
    expect((await patch({ version: back.body.version, name: 'Tessary harbour' })).body.detail).toContain(
      'here already',
    );
    const { events } = (await server.get(`/api/jobs/${job.id}/events`)).body as TimelineView;
    expect(events.map((e) => e.summary).reverse()).toEqual([
      'Began the job',
      `Changed the job: name ${job.name} to ${job.name} north, country PT to ES`,
      'Put the job away',
      'Took the job up again',
    ]);
  });

  it('goes by its name only', async () => {
    const job = await begin();
    const remove = (name: string) => server.delete(`/api/jobs/${job.id}?name=${encodeURIComponent(name)}`);
    expect((await remove('Mill')).body.detail).toContain(job.name);
    expect((await remove(job.name)).body).toEqual({ removed: true });
    expect((await server.get(`/api/jobs/${job.id}`)).status).toBe(404);
  });
});

describe('the network of a job', () => {
  const site = {
    name: 'site',
    address: '10.20.0.0',
    prefix: 24,
    gateway: '10.20.0.1',
    dhcp: [
      { first: '10.20.0.100', last: '10.20.0.149' },
      { first: '10.20.0.200', last: '10.20.0.209' },
    ],
  };
  const cameras = { name: 'cameras', address: '10.20.1.0', prefix: 26, gateway: null, dhcp: [] };
  const recorder = { name: 'recorder', kind: 'recorder', address: '10.20.1.2', mac: null };
  const network = (changes: object = {}): object => ({
    version: 0,
    feedDownMbps: 200,
    feedUpMbps: 20,
    feedPlaceId: null,
    subnets: [site, cameras],
    devices: [recorder],
    ...changes,
  });
  const save = (jobId: string, changes: object = {}) => server.put(`/api/jobs/${jobId}/network`, network(changes));

  it('is saved as a whole, several subnets with several ranges, and read again', async () => {
    const { id } = await begin();
    const saved = (await save(id)).body as SiteNetwork;
    expect(saved.network).toMatchObject({ feedDownMbps: 200, feedUpMbps: 20, subnets: [site, cameras], version: 1 });
    expect(saved.devices).toMatchObject([recorder]);
    const less = (await save(id, { version: 1, subnets: [cameras], devices: [] })).body as SiteNetwork;
    expect(less.network).toMatchObject({ subnets: [cameras], version: 2 });
    expect((await view(id)).devices).toEqual([]);
    const { events } = (await server.get(`/api/jobs/${id}/events`)).body as TimelineView;
    expect(events[0]?.summary).toBe('Changed the network: the subnets, 1 device less');
  });

  it('stays as it is where nothing changes, and where somebody else was faster', async () => {
    const { id } = await begin();
    await save(id);
    expect(((await save(id, { version: 1 })).body as SiteNetwork).network?.version).toBe(1);
    expect((await save(id, { version: 0, devices: [] })).status).toBe(409);
    expect((await view(id)).devices).toHaveLength(1);
  });

  it('is saved by one of many at once, as the job is; the others are shown what is there, and none is told to try again', async () => {
    const { id, version } = await begin();
    const statuses = async (save: (i: number) => PromiseLike<{ status: number }>) =>
      (await Promise.all(Array.from({ length: 8 }, (_, i) => save(i)))).map(({ status }) => status).sort();
    const one = [200, ...Array<number>(7).fill(409)];
    expect(await statuses((i) => save(id, { feedUpMbps: 10 + i }))).toEqual(one);
    expect(await statuses((i) => server.patch(`/api/jobs/${id}`, { version, customer: `Pier ${i}` }))).toEqual(one);
  });

  it.each<[string, object, string]>([
    ['subnets that overlap', { subnets: [site, { ...cameras, address: '10.20.0.64' }] }, 'overlaps site'],
    ['two of one name', { subnets: [site, { ...cameras, name: 'site' }] }, 'Two subnets are called site'],
    [
      'a range that leaves its subnet',
      { subnets: [{ ...site, dhcp: [{ first: '10.20.0.9', last: '10.20.1.9' }] }] },
      'does not lie within',
    ],
    ['one address for two', { devices: [recorder, { ...recorder, name: 'copy' }] }, "is recorder's already"],
    ['a kind of its own', { devices: [{ ...recorder, kind: 'toaster' }] }, 'one of router; switch; access point'],
    ['a feed of nothing', { feedDownMbps: 0 }, 'rate from the feed is 0'],
    ['a feed at a place of another job', { feedPlaceId: '00000000-0000-4000-8000-000000000000' }, 'no such place'],
  ])('is refused with %s', async (_, changes, words) => {
    const { id } = await begin();
    const answer = await save(id, changes);
    expect(answer.status).toBeGreaterThanOrEqual(404);
    expect(answer.body.detail).toContain(words);
    expect((await view(id)).network).toBeNull();
  });

  it('gives radios free addresses of its first subnet, and judges those of the others', async () => {
    const job = await view(server.jobId);
    const { subnets = [], version = 0, feedDownMbps = 0, feedUpMbps = 0, feedPlaceId = null } = job.network ?? {};
    const devices = job.devices.map(({ id, ...device }) => device);
    const yard = { name: 'yard', address: '10.90.0.0', prefix: 24, gateway: '10.90.0.1', dhcp: [] };
    const put = (list: object[], at: number) =>
      save(server.jobId, { version: at, feedDownMbps, feedUpMbps, feedPlaceId, subnets: list, devices });
    expect((await put([yard, ...subnets], version)).status).toBe(200);
    const { link } = await server.link('Quay crane');
    const proposal = (await server.post(`/api/links/${link.id}/sheets/proposal`)).body;
    expect(proposal.near.address).toMatch(/^10\.90\.0\./);
    expect(proposal.near.gateway).toBe('10.90.0.1');
    expect((await put(subnets, version + 1)).status).toBe(200);
    expect((await server.post(`/api/links/${link.id}/sheets/proposal`)).body.near.address).toMatch(/^10\.61\.4\./);
  });
});

describe("links of a job of one's own", () => {
  const spec = { modelId: 'brinmoor-pane-16', mountHeightM: 8, conductedDbm: 12 };
  const at = (name: string, latitudeDeg: number, longitudeDeg: number): object => ({
    place: { name, latitudeDeg, longitudeDeg, groundHeightM: 20 },
    ...spec,
  });
  const need = { needNearToFarMbps: 20, needFarToNearMbps: 10 };
  const air = { centreMHz: 5755, widthMHz: 40, protocol: '802.11' };
  const plan = (jobId: string, links: object[]) => server.post(`/api/jobs/${jobId}/links/list`, { links });
  const linksOf = async (jobId: string) => ((await server.get(`/api/jobs/${jobId}/links`)).body as JobLinks).links;
  const map = async (jobId: string) => (await server.get(`/api/jobs/${jobId}/map`)).body as JobMapView;

  it('are a hub with its stations at once, on one radio and one air', async () => {
    const { id } = await begin({ country: 'XT' });
    const made = await plan(id, [
      {
        name: 'Barn',
        near: { ...at('House', 38.71, -9.14), azimuthDeg: 45 },
        far: at('Barn', 38.715, -9.14),
        airKind: 'hub',
        ...air,
        ...need,
      },
      { name: 'Byre', near: { sameAs: { link: 0, end: 'near' } }, far: at('Byre', 38.71, -9.13), ...need },
    ]);
    expect(made.status).toBe(200);
    expect(made.body.linkIds).toHaveLength(2);
    const { radios, places } = await map(id);
    expect(places).toHaveLength(3);
    expect(radios.map((r) => r.role).sort()).toEqual(['access', 'station', 'station']);
    expect(new Set(radios.map((r) => r.air.id)).size).toBe(1);
    expect(radios[0]?.air.kind).toBe('hub');
  });

  it('are a chain, with one radio at a relay or with two', async () => {
    const { id } = await begin({ country: 'XT' });
    const hops = (near: object) => [
      {
        name: 'Up',
        near: at('House', 38.71, -9.14),
        far: at('Ridge', 38.715, -9.14),
        airKind: 'chain',
        ...air,
        ...need,
      },
      { name: 'Down', near, far: at('Cove', 38.72, -9.14), ...need },
    ];
    expect((await plan(id, hops({ sameAs: { link: 0, end: 'far' } }))).status).toBe(200);
    const one = await map(id);
    expect(one.radios.map((r) => r.role).sort()).toEqual(['access', 'relay', 'relay']);

    const other = await begin({ country: 'XT' });
    const [up, down] = hops(at('Ridge', 38.715, -9.14));
    const two = await plan(other.id, [
      { ...up, airKind: 'pair' },
      { ...down, airKind: 'pair', ...air, centreMHz: 5795 },
    ]);
    expect(two.status).toBe(200);
    const { radios, places } = await map(other.id);
    expect(places.map((p) => p.name)).toEqual(['Cove', 'House', 'Ridge']);
    expect(radios).toHaveLength(4);
  });

  it('are all of them or none, and the one that is wrong is named', async () => {
    const { id } = await begin({ country: 'XT' });
    const answer = await plan(id, [
      {
        name: 'Barn',
        near: at('House', 38.71, -9.14),
        far: at('Barn', 38.715, -9.14),
        airKind: 'hub',
        ...air,
        ...need,
      },
      {
        name: 'Byre',
        near: { sameAs: { link: 0, end: 'near' } },
        far: { ...at('Byre', 38.71, -9.13), conductedDbm: 55 },
        ...need,
      },
    ]);
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toMatch(/^Byre: Pane 16 sends 0 to 24 dBm; 55 dBm is outside/);
    expect(await linksOf(id)).toEqual([]);
    const later = await plan(id, [
      { name: 'x', near: { sameAs: { link: 3, end: 'near' } }, far: at('y', 38, -9), ...need },
    ]);
    expect(later.body.detail).toContain('does not stand before it');
  });

  it('of a country whose rules are not here are planned, and no plan is said to hold', async () => {
    const { id } = await begin({ country: 'AQ' });
    await plan(id, [
      { name: 'Barn', near: at('House', 38.71, -9.14), far: at('Barn', 38.715, -9.14), ...air, ...need },
    ]);
    const [link] = await linksOf(id);
    const radio = link?.state.steps.find((s) => s.step === 'radio');
    expect(radio?.state).toBe('thin');
    expect(radio?.because).toContain('the rules of this country are not known here');
  });
});
