import { routes } from '@kivram/contract/routes';
import { changeIdHeader } from '@kivram/contract/routes/route';
import type { JobMapView, JobView, TimelineView } from '@kivram/contract/views/job';
import type { LinkView } from '@kivram/contract/views/link';
import { randomUUID } from 'node:crypto';
import { EmptyResultError } from 'sequelize';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { problemOf } from '../src/http/problem';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const newLink = (changes: object = {}) => ({
  name: 'Lamp house',
  near: {
    place: { name: 'Mole head', latitudeDeg: 33.415, longitudeDeg: -37.832, groundHeightM: 3 },
    modelId: 'brinmoor-pane-16',
    mountHeightM: 6,
    conductedDbm: 10,
  },
  far: {
    place: { name: 'Lamp house', latitudeDeg: 33.418, longitudeDeg: -37.822, groundHeightM: 8 },
    modelId: 'brinmoor-pane-16',
    mountHeightM: 5,
    conductedDbm: 10,
  },
  centreMHz: 5775,
  widthMHz: 80,
  protocol: '802.11',
  needNearToFarMbps: 50,
  needFarToNearMbps: 20,
  ...changes,
});

describe('the demo job', () => {
  it('shows what is wrong in its links, computed and not written down', async () => {
    const links = await server.links();
    const state = (link: string, step: string) =>
      links.find((l) => l.name === link)?.state.steps.find((s) => s.step === step);
    expect(state('Ice works', 'record')?.state).toBe('holds');
    expect(state('Net loft', 'bench')).toMatchObject({
      state: 'fails',
      because: 'will not pair: both are access points, and 1 more reason',
    });
    expect(state('Gauge hut', 'aim')?.because).toContain('side lobe');
    expect(state('Hatchery', 'aim')?.because).toContain('path not clear');
    expect(state('Slipway store', 'prove')?.state).toBe('thin');
    expect((await server.link('Slipway store')).tests[0]?.verdict.bottleneck).toBe('ethernet');
  });
});

describe('a job without a crew', () => {
  it('is joined by a name, which then stands beside every change', async () => {
    const { JobRow } = await import('../src/database/models');
    const job = await JobRow.create({ name: 'Empty quay', customer: '', country: 'XT' });
    const made = await server.post(`/api/jobs/${job.id}/links`, newLink());
    expect(made.status).toBe(403);
    expect(made.body.detail).toContain('Nobody has said who is working');
    const joined = await server.post(`/api/jobs/${job.id}/crew`, { name: ' Ilse Marn ' });
    expect(joined.status).toBe(200);
    expect((await server.post(`/api/jobs/${job.id}/crew`, { name: 'Ilse Marn' })).body).toEqual(joined.body);
    const { body } = (await server.get(`/api/jobs/${job.id}`)) as { body: JobView };
    expect(body.crew.map((c) => c.name)).toEqual(['Ilse Marn']);
    const links = await server.get(`/api/jobs/${job.id}/links`);
    expect(links.body).toMatchObject({ all: 0, next: { count: 0 }, wrong: { count: 0 } });
    expect((await server.post(`/api/jobs/${job.id}/links`, newLink())).status).toBe(200);
    expect((await server.post(`/api/jobs/${job.id}/crew`, { name: '' })).body.detail).toContain('name must be text');
  });
});

describe('where links lie', () => {
  const at = (name: string, latitudeDeg: number, longitudeDeg: number) => ({
    ...newLink().near,
    place: { name, latitudeDeg, longitudeDeg, groundHeightM: 0 },
  });

  it('is two positions, not one under two names', async () => {
    const far = at('Mole head again', 33.415, -37.832);
    const refused = await server.post(`/api/jobs/${server.jobId}/links`, newLink({ name: 'Nowhere', far }));
    expect(refused.status).toBe(422);
    expect(refused.body.detail).toContain('Mole head and Mole head again are at one position');
  });

  it('is on a curved Earth also where no terrain is known: 60 km between masts of 3 m fail', async () => {
    const low = (end: object) => ({ ...end, mountHeightM: 3 });
    const body = newLink({ name: 'Far out', near: low(at('Here', 10, 10)), far: low(at('There', 10.54, 10)) });
    const view = (await server.post(`/api/jobs/${server.jobId}/links`, body)).body as LinkView;
    expect(view.terrain?.profile.groundM.every((h) => h === null)).toBe(true);
    expect(view.state.steps[0]).toMatchObject({ step: 'path', state: 'fails' });
    expect(view.state.steps[0]?.because).toContain("the Earth's bulge stands above the sight line");
  });

  it('may be both sides of the antimeridian', async () => {
    const body = newLink({ name: 'Date line', near: at('West', -17, 179.99), far: at('East', -17, -179.99) });
    const view = (await server.post(`/api/jobs/${server.jobId}/links`, body)).body as LinkView;
    const { links } = (await server.get(`/api/jobs/${server.jobId}/links?find=Date%20line`)).body as {
      links: { distanceM: number }[];
    };
    expect(view.state.steps[0]?.step).toBe('path');
    expect(links[0]?.distanceM).toBeLessThan(2200);
  });
});

describe('links', () => {
  it('are made from two places and two models, and go on the timeline', async () => {
    const made = await server.post(`/api/jobs/${server.jobId}/links`, newLink());
    expect(made.status).toBe(200);
    const view = made.body as LinkView;
    expect(view.near.place.name).toBe('Mole head');
    expect(view.state.next).toMatchObject({ step: 'bench' });
    const timeline = await server.get(`/api/links/${view.link.id}/events`);
    expect(timeline.body.events[0].summary).toBe('Planned the link Lamp house');
  });

  it.each([
    ['an unknown field', { colour: 'red' }, 422, 'colour is not known here'],
    [
      'a latitude beyond the pole',
      {
        near: {
          place: { name: 'x', latitudeDeg: 91, longitudeDeg: 0, groundHeightM: 0 },
          modelId: 'brinmoor-pane-16',
          mountHeightM: 6,
          conductedDbm: 10,
        },
      },
      422,
      'latitude is 91',
    ],
    ['a taken name', { name: 'Ice works' }, 409, 'A place of this name'],
    [
      'a channel outside the gear',
      {
        name: 'N',
        centreMHz: 5900,
        near: {
          place: { name: 'A', latitudeDeg: 1, longitudeDeg: 1, groundHeightM: 0 },
          modelId: 'brinmoor-pane-16',
          mountHeightM: 6,
          conductedDbm: 10,
        },
        far: {
          place: { name: 'B', latitudeDeg: 1.01, longitudeDeg: 1, groundHeightM: 0 },
          modelId: 'brinmoor-pane-16',
          mountHeightM: 6,
          conductedDbm: 10,
        },
      },
      422,
      'tunes from',
    ],
    [
      'no such model',
      {
        name: 'N',
        near: {
          place: { name: 'C', latitudeDeg: 1, longitudeDeg: 1, groundHeightM: 0 },
          modelId: 'nothing',
          mountHeightM: 6,
          conductedDbm: 10,
        },
      },
      422,
      '"nothing"',
    ],
  ])('refuses %s with a problem document', async (_, changes, status, words) => {
    const answer = await server.post(`/api/jobs/${server.jobId}/links`, newLink(changes));
    expect(answer.status).toBe(status);
    expect(answer.type).toBe('application/problem+json');
    expect(answer.body).toMatchObject({ status, type: 'about:blank' });
    expect(answer.body.detail).toContain(words);
  });

  it('leave nothing behind when refused', async () => {
    const places = async () => ((await server.get(`/api/jobs/${server.jobId}/map`)).body as JobMapView).places.length;
    const before = await places();
    await server.post(
      `/api/jobs/${server.jobId}/links`,
      newLink({
        name: 'Q',
        far: { ...newLink().far, modelId: 'nothing' },
        near: { ...newLink().near, place: { name: 'Z', latitudeDeg: 1, longitudeDeg: 1, groundHeightM: 0 } },
      }),
    );
    expect(await places()).toBe(before);
  });

  it('can be changed by one of two who change at once; the other is told', async () => {
    const { link, air } = await server.link('Hatchery');
    const change = () =>
      server.patch(`/api/links/${link.id}`, {
        version: link.version,
        air: { version: air.version, widthMHz: 20, centreMHz: 5745 },
      });
    const answers = await Promise.all([change(), change()]);
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409]);
    expect(answers.find((a) => a.status === 409)?.body.detail).toContain('Somebody else');
  });
});

describe('a change', () => {
  it('is made by whoever was chosen in this browser, and by nobody before that', async () => {
    const stranger = request.agent(server.app).set('host', '127.0.0.1');
    const body = { name: 'Breakwater', latitudeDeg: 33.41, longitudeDeg: -37.83, groundHeightM: 2, kind: 'site' };
    const path = `/api/jobs/${server.jobId}/places`;
    const refused = await stranger.post(path).send(body);
    expect(refused.status).toBe(403);
    expect(refused.body.detail).toContain('Choose a name');
    expect((await stranger.put('/api/session').send({ crewMemberId: randomUUID() })).status).toBe(404);

    const { crew } = (await server.get(`/api/jobs/${server.jobId}`)).body as JobView;
    const second = crew[1]?.id ?? '';
    await stranger.put('/api/session').send({ crewMemberId: second });
    expect((await stranger.get('/api/session')).body).toEqual({
      isHere: true,
      person: null,
      token: null,
      members: { [server.jobId]: { id: second, role: 'installer' } },
    });
    expect((await stranger.post(path).send(body)).status).toBe(200);
    // A name in the body is not a signature.
    expect((await stranger.post(path).send({ ...body, crewMemberId: server.crewMemberId })).status).toBe(422);
    const { events } = (await server.get(`/api/jobs/${server.jobId}/events`)).body as TimelineView;
    expect(events[0]).toMatchObject({ summary: 'Put Breakwater on the map', crewMemberId: second });
  });

  it('sent twice under one id is made once, and answers as it did', async () => {
    const id = randomUUID();
    const send = (path: string, body: object) => server.post(path, body).set(changeIdHeader, id);
    const path = `/api/jobs/${server.jobId}/links`;
    const body = newLink({
      name: 'Twice',
      near: { ...newLink().near, place: { ...newLink().near.place, name: 'Twice near' } },
      far: { ...newLink().far, place: { ...newLink().far.place, name: 'Twice far' } },
    });
    const [first, second] = await Promise.all([send(path, body), send(path, body)]);
    expect(first.status).toBe(200);
    expect(second.body.link.id).toBe(first.body.link.id);
    expect((await server.links()).filter((l) => l.name === 'Twice')).toHaveLength(1);
    const { events } = (await server.get(`/api/links/${first.body.link.id}/events`)).body as TimelineView;
    expect(events).toHaveLength(1);
    expect((await server.post(path, body).set(changeIdHeader, 'twice')).status).toBe(400);
  });

  it('answers nobody and nothing else under its id', async () => {
    const id = randomUUID();
    const named = (name: string) => ({
      name,
      latitudeDeg: 33.41,
      longitudeDeg: -37.83,
      groundHeightM: 2,
      kind: 'landmark',
    });
    const places = `/api/jobs/${server.jobId}/places`;
    const send = (path: string, body: object) => server.post(path, body).set(changeIdHeader, id);
    expect((await send(places, named('Once only'))).status).toBe(200);
    // Another kind of change, another job, one that belongs to no job.
    const visit = { startedAt: '2026-05-04T08:00:00Z', purpose: 'Look', company: '', note: '' };
    const job = { name: 'By another id', customer: '', country: 'XT', units: 'metric', workerName: 'X' };
    for (const [path, body] of [
      [`/api/jobs/${server.jobId}/visits`, visit],
      ['/api/jobs', job],
    ] as const)
      expect((await send(path, body)).body, path).toMatchObject({ status: 409, title: 'Id taken' });
    // The id of the change that made a job is that of the job, which others may know.
    const own = (await server.post('/api/jobs', { ...job, name: 'Kept to themselves' })).body as { id: string };
    await server.sequelize.query(`UPDATE change SET made_by = 'POST /api/jobs somebody-else' WHERE id = '${own.id}'`);
    const answer = await server.post('/api/jobs', { ...job, name: 'A guess' }).set(changeIdHeader, own.id);
    expect(answer.body).toMatchObject({ status: 409, title: 'Id taken' });
    expect(answer.text).not.toContain('Kept to themselves');
    await server.sequelize.query(`DELETE FROM job WHERE id = '${own.id}'`);
  });

  it('begins of ten jobs of one name at once one', async () => {
    const job = { name: 'Ten at once', customer: '', country: 'XT', units: 'metric', workerName: 'X' };
    const answers = await Promise.all(Array.from({ length: 10 }, () => server.post('/api/jobs', job)));
    expect(answers.map(({ status }) => status).sort((a, b) => a - b)).toEqual([200, ...Array<number>(9).fill(409)]);
    await server.sequelize.query(`DELETE FROM job WHERE name = 'Ten at once'`);
  });

  it('that removed something can be repeated too', async () => {
    const made = await server.post(`/api/jobs/${server.jobId}/places`, {
      name: 'For a moment',
      latitudeDeg: 33.41,
      longitudeDeg: -37.83,
      groundHeightM: 2,
      kind: 'landmark',
    });
    const id = randomUUID();
    const remove = () => server.delete(`/api/places/${made.body.id}?version=0`).set(changeIdHeader, id);
    expect((await remove()).body).toEqual({ removed: true });
    expect((await remove()).body).toEqual({ removed: true });
    expect((await server.delete(`/api/places/${made.body.id}?version=0`)).status).toBe(404);
  });
});

describe('settings sheets', () => {
  it('are proposed with free addresses, saved as revisions with their differences, and tried by the stand-in pair', async () => {
    const id = await server.linkId('Quay crane');
    const proposal = (await server.post(`/api/links/${id}/sheets/proposal`)).body;
    expect(proposal.near.address).not.toBe(proposal.far.address);
    const job = (await server.get(`/api/jobs/${server.jobId}`)).body as JobView;
    expect(job.devices.map((d) => d.address)).not.toContain(proposal.near.address);

    const put = (body: object) => server.put(`/api/links/${id}/sheets`, body);
    expect((await put({ ...proposal, nearRevision: 0, farRevision: 0 })).status).toBe(200);
    expect((await put({ ...proposal, nearRevision: 0, farRevision: 0 })).status).toBe(409);
    expect((await server.post(`/api/links/${id}/bench-runs`)).body.linked).toBe(true);

    const wrong = { ...proposal.far, networkName: 'elsewhere', passphrase: 'another-one-2345' };
    const saved = await put({ near: proposal.near, far: wrong, nearRevision: 1, farRevision: 1 });
    expect(saved.body.far.sheet.revision).toBe(2);
    expect(saved.body.near.sheet.revision).toBe(1);
    expect((await server.post(`/api/links/${id}/bench-runs`)).body.linked).toBe(false);

    const event = (await server.get(`/api/links/${id}/events`)).body.events.find(
      (e: { kind: string }) => e.kind === 'settings',
    );
    expect(event.detail.changes.far).toContainEqual({
      field: 'networkName',
      before: proposal.far.networkName,
      after: 'elsewhere',
    });
    expect(JSON.stringify(event)).not.toContain('another-one-2345');
  });

  it.each([
    ['a short passphrase', { passphrase: 'short' }, '8 to 63'],
    ['a name of 33 bytes', { networkName: 'é'.repeat(17) }, '1 to 32 bytes'],
    ['an impossible address', { address: '10.0.0.300' }, '10.0.0.300'],
  ])('refuse %s', async (_, change, words) => {
    const { near, far, link } = await server.link('Net loft');
    const answer = await server.put(`/api/links/${link.id}/sheets`, {
      near: { ...near.sheet?.sheet, ...change },
      far: far.sheet?.sheet,
      nearRevision: 1,
      farRevision: 1,
    });
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toContain(words);
    expect(answer.body.errors[0].field).toMatch(/^near\./);
  });
});

describe('the database itself', () => {
  it.each([
    ['two radios of one link the same', `UPDATE link SET far_radio_id = near_radio_id`],
    ['a latitude of 95', `UPDATE place SET latitude_deg = 95`],
    ['a passphrase of 3', `UPDATE sheet SET passphrase = 'abc'`],
    ['a finished alignment without result', `UPDATE alignment SET result = NULL WHERE state = 'finished'`],
    [
      'two running alignments of a link',
      `UPDATE alignment SET state = 'running', finished_at = NULL; INSERT INTO alignment (link_id, state, started_at, plan, evidence_kind) SELECT link_id, state, started_at, plan, evidence_kind FROM alignment`,
    ],
    ['a DHCP range outside the subnet', `UPDATE dhcp_range SET last = '10.62.0.9'`],
    [
      'two subnets that overlap',
      `INSERT INTO subnet (network_id, position, name, address, prefix) SELECT network_id, 7, 'x', '10.61.0.0', 16 FROM subnet`,
    ],
    ['a role of "both"', `UPDATE sheet SET role = 'both'`],
    [
      'a link whose radio is on another air',
      `UPDATE link SET air_id = (SELECT id FROM air WHERE id <> link.air_id AND job_id = link.job_id LIMIT 1)`,
    ],
    ['two access radios on one air', `UPDATE radio SET role = 'access'`],
    ['a pair with two frequencies', `UPDATE air SET return_mhz = 5500 WHERE kind = 'pair'`],
    ['a licensed pair with one frequency', `UPDATE air SET return_mhz = NULL WHERE kind = 'duplex'`],
    ['a radio with a spec sheet that is not there', `UPDATE radio SET model_revision = 99`],
  ])('refuses %s', async (_, sql) => {
    await expect(
      server.sequelize.transaction((transaction) => server.sequelize.query(sql, { transaction })),
    ).rejects.toThrow();
  });
});

describe('the surface', () => {
  it('tells what is gone in the middle of a request as gone, and not as broken', () => {
    expect(problemOf(new EmptyResultError('no row'))).toMatchObject({
      status: 404,
      detail: expect.stringContaining('may have been removed') as string,
    });
  });

  it('describes every route in OpenAPI, with the request classes', async () => {
    const { body } = await server.get('/api/openapi.json');
    for (const [name, route] of Object.entries(routes)) {
      const path = route.path.replace(/:(\w+)/g, '{$1}');
      expect(body.paths[path][route.method].operationId, name).toBe(name);
      const schema = body.paths[path][route.method].requestBody?.content['application/json']?.schema.$ref
        .split('/')
        .at(-1);
      if (schema) expect(body.components.schemas[schema].type).toBe('object');
    }
    expect(body.components.schemas.NewPlace.properties.latitudeDeg).toMatchObject({ maximum: 90, minimum: -90 });
  });

  it('answers to this machine only, under a strict content security policy', async () => {
    const foreign = await request(server.app).get('/api/jobs').set('host', 'kivram.example');
    expect(foreign.status).toBe(403);
    expect(foreign.headers['content-security-policy']).toContain("default-src 'none'");
    expect((await server.get('/api/jobs').set('origin', 'http://elsewhere.example')).status).toBe(403);
    const policy = (await server.get('/api/jobs')).headers['content-security-policy'];
    expect(policy).toContain("default-src 'none'");
    expect(policy).not.toContain('unsafe');
  });

  it.each([
    ['another program of this machine', { origin: 'http://127.0.0.1:9' }],
    ['another site', { 'sec-fetch-site': 'cross-site' }],
    ['another port, as the browser says', { 'sec-fetch-site': 'same-site' }],
  ])('takes no file from a page of %s, though the browser does not ask before it sends one', async (_, headers) => {
    const sent = await request(server.app)
      .post('/api/terrain/uploads?name=x.tif')
      .set({ host: '127.0.0.1', 'content-type': 'text/plain', ...headers })
      .send('x');
    expect(sent.status).toBe(403);
  });

  it('opens a page for whoever follows a link to it, and answers its own pages', async () => {
    const follows = { host: '127.0.0.1', 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate' };
    expect((await request(server.app).get('/api/jobs').set(follows)).status).toBe(200);
    const own = { host: '127.0.0.1:4180', origin: 'http://127.0.0.1:4180', 'sec-fetch-site': 'same-origin' };
    expect((await request(server.app).get('/api/jobs').set(own)).status).toBe(200);
  });

  it.each([
    ['keys that every object has', '{"crewMemberId":{"toString":1},"constructor":{}}'],
    ['a list three thousand deep', `${'['.repeat(3000)}${']'.repeat(3000)}`],
    ['half a character', '{"crewMemberId":"\\ud800"}'],
    ['a million things', `[${'{},'.repeat(300_000)}{}]`],
    ['nothing where an object belongs', 'null'],
  ])('refuses %s in words, at once', async (_, text) => {
    const answer = await request(server.app)
      .put('/api/session')
      .set({ host: '127.0.0.1', 'content-type': 'application/json' })
      .send(text);
    expect([400, 413, 422]).toContain(answer.status);
    expect(answer.headers['content-type']).toContain('application/problem+json');
    expect(answer.body.detail.length).toBeGreaterThan(10);
  });

  it('answers nonsense with a readable problem', async () => {
    expect((await server.get('/api/links/not-an-id')).body.detail).toContain('"not-an-id"');
    expect((await server.get('/api/nowhere')).body.status).toBe(404);
    expect((await server.get('/api/links/00000000-0000-4000-8000-000000000000')).body.detail).toContain('no such link');
    const broken = await server
      .post(`/api/jobs/${server.jobId}/links`)
      .set('content-type', 'application/json')
      .send('{"a":');
    expect(broken.body.detail).toContain('not valid JSON');
  });
});
