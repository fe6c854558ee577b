import type { JobRole } from '@kivram/contract/entities/crewMember';
import { routes } from '@kivram/contract/routes';
import { fillPath, type Access, type Route } from '@kivram/contract/routes/route';
import type { JobView } from '@kivram/contract/views/job';
import type { LinkView, RevealedView } from '@kivram/contract/views/link';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { QueryTypes } from 'sequelize';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Opening } from '../src/lan/opening';
import { addPerson, invite, Phone } from './phone';
import { startTestServer, type TestServer } from './server';

/** Who asks over the network. */
const askers = ['nobody', 'reader', 'otherJob', 'installer', 'lead'] as const;
type Asker = (typeof askers)[number];

type Answer = 'in' | 401 | 403;

/** What each access means to each of them. The compiler asks for every access, and every route has one. */
const expected: Record<Access, Record<Asker, Answer>> = {
  anyone: { nobody: 'in', reader: 'in', otherJob: 'in', installer: 'in', lead: 'in' },
  signedIn: { nobody: 401, reader: 'in', otherJob: 'in', installer: 'in', lead: 'in' },
  worker: { nobody: 401, reader: 403, otherJob: 'in', installer: 'in', lead: 'in' },
  here: { nobody: 403, reader: 403, otherJob: 403, installer: 403, lead: 403 },
  reader: { nobody: 401, reader: 'in', otherJob: 403, installer: 'in', lead: 'in' },
  installer: { nobody: 401, reader: 403, otherJob: 403, installer: 'in', lead: 'in' },
  lead: { nobody: 401, reader: 403, otherJob: 403, installer: 403, lead: 'in' },
};

/** Those that sign somebody in or out would change who asks. */
const signing: string[] = ['acceptInvitation', 'signIn', 'signOut'];

let server: TestServer;
let opening: Opening;
let folder: string;
const phones = {} as Record<Asker, Phone>;
let params: Record<string, string>;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kivram-lan-'));
  opening = await Opening.prepare(folder, 0, pino({ level: 'silent' }));
  server = await startTestServer({ opening });
  const address = opening.view().addresses[0] ?? '';
  for (const asker of askers) phones[asker] = new Phone(address, opening.authority);
  const comeIn = async (asker: Asker, role: JobRole, jobId?: string): Promise<void> => {
    const { code } = await invite(server, await addPerson(server, `The ${asker}`, role, jobId));
    expect((await phones[asker].accept(code)).status).toBe(200);
  };
  await comeIn('reader', 'reader');
  await comeIn('installer', 'installer');
  await comeIn('lead', 'lead');
  const fields = { name: 'Other job', customer: '', country: 'XT', units: 'metric', workerName: 'Ona Brisk' };
  const other = (await server.post('/api/jobs', fields)).body as { id: string };
  await comeIn('otherJob', 'installer', other.id);

  const { link, near, far } = (await server.link('Ice works')) as LinkView;
  const one = async (sql: string): Promise<string> =>
    (await server.sequelize.query<{ id: string }>(sql, { type: QueryTypes.SELECT }))[0]?.id ?? '';
  const visit = (
    await server.post(`/api/jobs/${server.jobId}/visits`, {
      startedAt: '2026-05-04',
      purpose: 'Look',
      company: '',
      note: '',
    })
  ).body as { id: string };
  await server.sequelize.query(
    `INSERT INTO local_rule (job_id, lowest_mhz, highest_mhz, most_eirp_dbm, radar, reason) VALUES ('${server.jobId}', 5900, 5920, 20, false, 'for this test only')`,
  );
  const end = {
    modelId: 'brinmoor-span-25',
    mountHeightM: 9,
    conductedDbm: 8,
    cableLossDb: 0,
    cable: null,
    aimOffDeg: 0,
    interferenceDb: 0,
    polarisation: 'dual',
  };
  const choices = {
    centreMHz: 5775,
    returnMHz: null,
    widthMHz: 80,
    protocol: '802.11',
    errorCorrection: false,
    near: end,
    far: end,
    needNearToFarMbps: 10,
    needFarToNearMbps: 10,
    wantedMarginDb: 10,
    rainMmPerH: null,
    treeYears: 0,
  };
  await server.sequelize.query(
    `INSERT INTO alternative (link_id, name, choices) VALUES ('${link.id}', 'for this test', :choices)`,
    { replacements: { choices: JSON.stringify(choices) } },
  );
  await server.sequelize.query(
    `INSERT INTO cable (job_id, name, a_place_id, b_place_id, mbps) VALUES ('${server.jobId}', 'for this test', '${near.place.id}', '${far.place.id}', 1000)`,
  );
  const obstacle = await one(`SELECT id FROM obstacle WHERE job_id = '${server.jobId}'`);
  const jpeg = await sharp({ create: { width: 1, height: 1, channels: 3, background: '#345' } })
    .jpeg()
    .toBuffer();
  await server.sequelize.query(
    `INSERT INTO photo (id, job_id, visit_id, width_px, height_px, full_jpeg, small_jpeg)
     SELECT gen_random_uuid(), '${server.jobId}', '${visit.id}', 1, 1, :jpeg, :jpeg`,
    { replacements: { jpeg } },
  );
  await server.sequelize.query(`INSERT INTO removal (job_id, what, rows) VALUES ('${server.jobId}', 'nothing', '{}')`);
  params = {
    jobId: server.jobId,
    linkId: link.id,
    placeId: near.place.id,
    radioId: near.radio.id,
    obstacleId: obstacle,
    cableId: await one('SELECT id FROM cable'),
    alternativeId: await one('SELECT id FROM alternative'),
    localRuleId: await one('SELECT id FROM local_rule'),
    licenceId: await one('SELECT id FROM licence'),
    country: 'XT',
    alignmentId: await one(`SELECT id FROM alignment WHERE state = 'finished' AND link_id = '${link.id}'`),
    removalId: await one('SELECT id FROM removal'),
    memberId: server.crewMemberId,
    visitId: visit.id,
    photoId: await one('SELECT id FROM photo'),
    sessionId: '00000000-0000-4000-8000-000000000000',
    fileId: '00000000-0000-4000-8000-000000000000',
    uploadId: '00000000-0000-4000-8000-000000000000',
    profileId: '00000000-0000-4000-8000-000000000000',
    modelId: 'no-such-model',
    format: 'kml',
    size: 'small',
    end: 'near',
  };
});
afterAll(async () => {
  await server.close();
  await rm(folder, { recursive: true });
});

const table = (Object.entries(routes) as [string, Route<unknown, unknown>][]).filter(
  ([name]) => !signing.includes(name),
);

/** A stream ends when nobody listens; what it answers is known before. */
async function statusOf(phone: Phone, route: Route<unknown, unknown>): Promise<number> {
  const path = fillPath(route.path, params);
  const asked = phone.ask(route.method, path, route.method === 'get' ? undefined : {});
  if (route.gives !== 'text/event-stream') return (await asked).status;
  return new Promise((resolve, reject) => {
    asked.buffer(false).parse((response, done) => {
      resolve((response as unknown as { statusCode: number }).statusCode);
      (response as unknown as { destroy(): void }).destroy();
      done(null, null);
    });
    asked.then(({ status }) => resolve(status), reject);
  });
}

describe('a device that is to be asked for a level', () => {
  const ask = (source: object) =>
    phones.installer.post(`/api/links/${params.linkId}/level-sources/near/ask`, { source: { version: -1, ...source } });
  const profileId = '00000000-0000-4000-8000-000000000000';

  it('is not this computer, whose pages trust whoever asks from it, for who comes over the network', async () => {
    for (const url of [
      `http://127.0.0.1:1/api/jobs/${server.jobId}/export`,
      'http://localhost:1/',
      'http://[::1]:1/',
    ]) {
      const answer = await ask({ way: 'http', profileId, http: { url, ownCertificate: false } });
      expect(answer.status, url).toBe(422);
      expect((answer.body as { detail: string }).detail, url).toContain('chosen there only');
    }
  });

  it('is no command of this computer either', async () => {
    const command = { name: 'id' };
    expect((await ask({ way: 'command', profileId, command })).status).toBe(403);
    const saved = await phones.installer.ask('put', `/api/links/${params.linkId}/level-sources/near`, {
      version: -1,
      way: 'command',
      profileId,
      command,
    });
    expect(saved.status).toBe(403);
  });
});

describe('every route over the network', () => {
  it('names every parameter that a path has', () => {
    for (const [name, { path }] of table)
      for (const [, parameter = ''] of path.matchAll(/:(\w+)/g))
        expect(params[parameter], `${name}: ${parameter}`).toBeTruthy();
  });

  it.each(table)('%s lets in whom its access names', async (name, route) => {
    for (const asker of askers) {
      const status = await statusOf(phones[asker], route);
      const wanted = expected[route.access][asker];
      if (wanted === 'in') expect([401, 403], `${name}, ${asker}: ${status}`).not.toContain(status);
      else expect(status, `${name}, ${asker}`).toBe(wanted);
    }
  });

  it.each(table.filter(([, { method, access }]) => method !== 'get' && access !== 'anyone' && access !== 'here'))(
    '%s takes no change without the token, or from another origin',
    async (_, route) => {
      const path = fillPath(route.path, params);
      const lead = phones.lead;
      const { token } = lead;
      lead.token = null;
      const without = await lead.ask(route.method, path, {});
      lead.token = `${token?.slice(0, -1) ?? ''}_`;
      const wrong = await lead.ask(route.method, path, {});
      lead.token = token;
      const foreign = await lead.ask(route.method, path, {}).set('origin', 'https://elsewhere.example');
      expect([without.status, wrong.status, foreign.status]).toEqual([403, 403, 403]);
    },
  );

  it('is of the table: nothing else of the API answers, but the document that lists them', async () => {
    expect((await phones.nobody.get('/api/nowhere')).status).toBe(404);
    const document = (await phones.nobody.get('/api/openapi.json')).body as { paths: Record<string, object> };
    const listed = Object.values(document.paths).reduce((sum, path) => sum + Object.keys(path).length, 0);
    expect(listed).toBe(Object.keys(routes).length);
  });
});

describe('what somebody sees over the network', () => {
  it('is their jobs only, in lists and in what is found', async () => {
    const names = async (phone: Phone): Promise<string[]> =>
      ((await phone.get('/api/jobs')).body as { name: string }[]).map((job) => job.name);
    expect(await names(phones.reader)).toEqual(['Tessary harbour']);
    expect(await names(phones.otherJob)).toEqual(['Other job']);
    const found = async (phone: Phone, text: string): Promise<{ jobId: string | null }[]> =>
      (await phone.get(`/api/find?text=${text}`)).body as { jobId: string | null }[];
    expect((await found(phones.reader, 'ice')).length).toBeGreaterThan(0);
    for (const text of ['ice', 'tess', '10.', 'a', '02:'])
      for (const { jobId } of await found(phones.otherJob, text)) expect(jobId, text).not.toBe(server.jobId);
  });

  it('is no passphrase for a reader, also in a file', async () => {
    const { near } = (await server.post(`/api/links/${params.linkId ?? ''}/passphrases`)).body as RevealedView;
    const secret = near.passphrase ?? '';
    expect(secret.length).toBeGreaterThan(8);
    for (const path of [`/api/links/${params.linkId ?? ''}`, `/api/jobs/${server.jobId}/export`]) {
      const answer = await phones.reader.get(path);
      expect(answer.status).toBe(200);
      expect(answer.text).not.toContain(secret);
    }
    for (const asker of ['reader', 'installer'] as const)
      expect((await phones[asker].get(`/api/jobs/${server.jobId}/export?secrets=include`)).status, asker).toBe(403);
    const whole = await phones.lead.get(`/api/jobs/${server.jobId}/export?secrets=include`);
    expect(whole.text).toContain(secret);
  });

  it('is not what they copy from, and a job of theirs is replaced by nobody else', async () => {
    const body = {
      name: 'Copied',
      customer: '',
      country: 'XT',
      units: 'metric',
      workerName: 'X',
      copyOf: server.jobId,
    };
    expect((await phones.otherJob.post('/api/jobs', body)).status).toBe(403);
    const file = (await server.get(`/api/jobs/${server.jobId}/export`)).body as object;
    const replaced = await phones.otherJob.post('/api/jobs/import?replace=yes', file);
    expect(replaced.body).toMatchObject({ status: 403, title: 'Not your part' });
    const brought = await phones.installer.post('/api/jobs/import?copy=yes', file);
    const { crew } = (await phones.installer.get(`/api/jobs/${brought.body.jobId as string}`)).body as JobView;
    // Whoever brings it leads it, and is nobody who was in it, whatever their name.
    expect(crew.filter(({ name }) => name.startsWith('The installer'))).toMatchObject([
      { name: 'The installer', role: 'installer' },
      { name: 'The installer 2', role: 'lead' },
    ]);
  });

  it('stays with who signs in when a file replaces the job, whatever the file says they are', async () => {
    const file = (await server.get(`/api/jobs/${server.jobId}/export`)).body as { crew: { role: string }[] };
    const promoted = { ...file, crew: file.crew.map((member) => ({ ...member, role: 'lead' })) };
    expect((await server.post('/api/jobs/import?replace=yes', promoted)).status).toBe(200);
    const session = (await phones.reader.get('/api/session')).body as { members: Record<string, { role: string }> };
    expect(session.members[server.jobId]?.role).toBe('reader');
    expect((await phones.lead.get(`/api/jobs/${server.jobId}/people`)).status).toBe(200);
  });
});
