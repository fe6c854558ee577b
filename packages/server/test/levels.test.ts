import type { JobDocument } from '@kivram/contract/jobDocument/document';
import type { LevelSourceBody } from '@kivram/contract/requests/level';
import type { AlignmentView } from '@kivram/contract/views/alignment';
import type {
  LevelProfile,
  LevelSourcesView,
  LevelTableResult,
  ProfileDocument,
  StandinAgent,
} from '@kivram/contract/views/level';
import type { JobLinks } from '@kivram/contract/views/job';
import type { LinkView } from '@kivram/contract/views/link';
import type { Reading } from '@kivram/core/aiming/reading';
import type { End } from '@kivram/core/budget/plan';
import { randomUUID } from 'node:crypto';
import { QueryTypes } from 'sequelize';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { JobRow } from '../src/database/models/job';
import type { AlignmentPlan } from '../src/database/models/alignment';
import { judge } from '../src/services/alignmentJudge';
import { loadLink } from '../src/services/linkRecords';
import { startTestServer, type TestServer } from './server';

const secret = 'grep-for-me-5512-terns';

let server: TestServer;
let linkId: string;
let profiles: LevelProfile[] = [];
beforeAll(async () => {
  server = await startTestServer();
  await server.lead();
  // Pictures and old readings are many, and not what is looked at.
  await server.sequelize.query('DELETE FROM photo; DELETE FROM reading; DELETE FROM alignment');
  linkId = await server.linkId('Ice works');
  profiles = (await server.get('/api/level-profiles')).body as LevelProfile[];
});
afterAll(() => server.close());

const profileId = (way: 'snmp' | 'json'): string => profiles.find((profile) => profile.way === way)?.id ?? '';
const sources = async (): Promise<LevelSourcesView> => (await server.get(`/api/links/${linkId}/level-sources`)).body;
/** Chooses a way of reading over whatever is chosen now. */
const choose = async (end: 'near' | 'far', body: Omit<LevelSourceBody, 'version'>) =>
  server.put(`/api/links/${linkId}/level-sources/${end}`, { version: (await sources())[end].version, ...body });
const snmp = (changes: object = {}): Omit<LevelSourceBody, 'version'> => ({
  way: 'snmp',
  profileId: profileId('snmp'),
  snmp: { host: '10.61.4.40', port: 161, version: '2c', ...changes },
});
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const everything = async (sql: string): Promise<string> =>
  JSON.stringify(await server.sequelize.query(sql, { type: QueryTypes.SELECT }));

describe('where the level of an end comes from', () => {
  it('is a stand-in until something else is chosen, and two who choose at once do not overwrite each other', async () => {
    expect((await sources()).far).toMatchObject({ way: 'standin', version: -1, secretsKept: [] });
    const first = { version: -1, way: 'typed', lightsDbm: [-65, -85] };
    expect((await server.put(`/api/links/${linkId}/level-sources/far`, first)).status).toBe(200);
    expect((await server.put(`/api/links/${linkId}/level-sources/far`, first)).body.detail).toContain('Somebody else');
    expect((await sources()).far).toMatchObject({ way: 'typed', version: 0, lightsDbm: [-85, -65] });
    expect((await server.get(`/api/links/${linkId}/events`)).text).toContain('Level at the far end: typed by hand');
  });

  it('keeps its secrets sealed, tells them to nobody, and sends them to no other place', async () => {
    const saved = await choose('near', snmp({ community: secret }));
    expect(saved.status).toBe(200);
    expect(saved.text).not.toContain(secret);
    expect((await sources()).near).toMatchObject({ way: 'snmp', secretsKept: ['community'] });
    expect(await everything('SELECT * FROM level_source')).not.toContain(secret);
    expect(await everything('SELECT * FROM event')).not.toContain(secret);
    expect(await everything('SELECT * FROM change')).not.toContain(secret);
    await choose('near', snmp());
    expect((await sources()).near.secretsKept).toEqual(['community']);
    for (const elsewhere of [{ port: 1161 }, { host: '10.61.4.41' }, { version: '1' }]) {
      await choose('near', snmp({ community: secret }));
      await choose('near', snmp(elsewhere));
      expect((await sources()).near.secretsKept, JSON.stringify(elsewhere)).toEqual([]);
    }
    const page = (url: string, changes: object = {}) => ({
      way: 'http' as const,
      profileId: profileId('json'),
      http: { url, ownCertificate: false, ...changes },
    });
    const certificate = Array<string>(32).fill('4F').join(':');
    for (const elsewhere of [
      page('http://10.0.0.9/state'),
      page('https://10.0.0.9:8443/state'),
      page('https://10.0.0.9/state', { ownCertificate: true }),
      page('https://10.0.0.9/state', { ownCertificate: true, certificate }),
    ]) {
      await choose('near', page('https://10.0.0.9/state', { password: secret }));
      await choose('near', page('https://10.0.0.9/other'));
      expect((await sources()).near.secretsKept).toEqual(['password']);
      await choose('near', elsewhere);
      expect((await sources()).near.secretsKept, JSON.stringify(elsewhere)).toEqual([]);
    }
    await choose('near', snmp({ community: secret }));
    const file = (await server.get(`/api/jobs/${server.jobId}/export`)).text;
    expect(file.includes(secret)).toBe(false);
    expect((JSON.parse(file) as JobDocument).levelSources).toHaveLength(2);
  });

  it('comes back with its job: secrets from here, or from the file where they were asked for', async () => {
    const plain = (await server.get(`/api/jobs/${server.jobId}/export`)).body as JobDocument;
    const whole = (await server.get(`/api/jobs/${server.jobId}/export?secrets=include`)).body as JobDocument;
    expect(JSON.stringify(whole.levelSources).includes(secret)).toBe(true);
    const replace = async (document: JobDocument): Promise<void> => {
      const bytes = Buffer.from(JSON.stringify(document));
      const answer = await server.upload(`/api/jobs/import?replace=yes`, bytes);
      expect(answer.status, answer.text).toBeLessThan(300);
    };
    await replace(plain);
    linkId = await server.linkId('Ice works');
    expect((await sources()).near).toMatchObject({ way: 'snmp', secretsKept: ['community'] });
    // A file that says where a radio is does not get what was kept for the radio that is here.
    const elsewhere = structuredClone(plain);
    for (const { source } of elsewhere.levelSources ?? []) if (source.snmp) source.snmp.host = '10.66.6.6';
    await replace(elsewhere);
    linkId = await server.linkId('Ice works');
    expect((await sources()).near).toMatchObject({ snmp: { host: '10.66.6.6' }, secretsKept: [] });
    await replace(whole);
    expect((await sources()).near.secretsKept).toEqual(['community']);
  });

  it('is asked about where it lies outside of private networks, and nothing is sent before', async () => {
    const asked = await choose('near', snmp({ host: '8.8.8.8', community: secret }));
    expect(asked.status).toBe(409);
    expect(asked.body.errors).toEqual([{ field: 'outsideAddress', message: '8.8.8.8' }]);
    const http = {
      way: 'http' as const,
      profileId: profileId('json'),
      http: { url: 'http://8.8.8.8/', ownCertificate: false },
    };
    expect((await choose('near', http)).status).toBe(409);
    const body = { source: { version: -1, ...http } };
    expect((await server.post(`/api/links/${linkId}/level-sources/near/ask`, body)).status).toBe(409);
    expect((await choose('near', { ...snmp({ host: '8.8.8.8' }), outsideAddress: '8.8.8.8' })).status).toBe(200);
    // Nobody who brings a copy has said that it is meant; whoever brings the job back has.
    const file = (await server.get(`/api/jobs/${server.jobId}/export`)).body as JobDocument;
    const copy = (await server.post('/api/jobs/import?copy=yes', file)).body as { jobId: string };
    const [linkOfCopy] = ((await server.get(`/api/jobs/${copy.jobId}/links?limit=500`)).body as JobLinks).links.filter(
      ({ name }) => name === 'Ice works',
    );
    const ofCopy = (await server.get(`/api/links/${linkOfCopy?.id}/level-sources`)).body as LevelSourcesView;
    expect(ofCopy.near).toMatchObject({ snmp: { host: '8.8.8.8' }, outsideAddress: null });
    await server.delete(`/api/jobs/${copy.jobId}?version=0`);
    await choose('near', { way: 'standin' });
  });

  it.each([
    ['a port', () => snmp({ port: 0 }), 'port'],
    ['an address', () => snmp({ host: 'two words' }), 'address of the radio'],
    ['a profile', { way: 'snmp', snmp: { host: '10.0.0.1', port: 161, version: '2c' } }, 'must be chosen'],
    [
      'a page',
      { way: 'http', profileId: randomUUID(), http: { url: 'ftp://x', ownCertificate: false } },
      'address like http',
    ],
    [
      'a page behind a network card',
      { way: 'http', profileId: randomUUID(), http: { url: 'http://[fe80::1%25lo]/', ownCertificate: false } },
      'without a per cent sign',
    ],
    [
      'a page with a password in it',
      { way: 'http', profileId: randomUUID(), http: { url: 'http://a:b@10.0.0.1/', ownCertificate: false } },
      'address like http',
    ],
    ['lights', { way: 'typed', lightsDbm: [5] }, 'levels of the lights'],
  ])('is refused with the name of what is wrong: %s', async (_, body, words) => {
    const answer = await choose('near', (typeof body === 'function' ? body() : body) as never);
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toContain(words);
  });
});

describe('profiles', () => {
  const value = { where: '/level', type: 'number', scale: 1, offset: 0 };
  const body = {
    version: -1,
    name: 'Roof radio',
    way: 'json',
    level: value,
    chains: [],
    noise: null,
    txRate: null,
    rxRate: null,
  };

  it('are made, changed and removed, but not under somebody who reads by them', async () => {
    const id = randomUUID();
    const save = (changes: object) => server.put(`/api/level-profiles/${id}`, { ...body, ...changes });
    expect((await save({})).status).toBe(200);
    expect((await save({})).body.detail).toContain('Somebody else');
    expect((await save({ version: 0, level: null })).body.detail).toContain('Say where the level stands');
    expect((await save({ version: 0, name: 'stand-in radio BY SNMP' })).body.detail).toContain(
      'another profile called',
    );
    expect((await save({ version: 0, name: 'Roof radio 2' })).body).toMatchObject({
      name: 'Roof radio 2',
      version: 1,
      used: 0,
    });
    const http = { way: 'http' as const, profileId: id, http: { url: 'http://10.0.0.9/', ownCertificate: false } };
    expect((await choose('far', http)).status).toBe(200);
    expect((await server.delete(`/api/level-profiles/${id}?version=1`)).body.detail).toContain('1 end is read by');
    await choose('far', { way: 'standin' });
    expect((await server.delete(`/api/level-profiles/${id}?version=0`)).status).toBe(409);
    expect((await server.delete(`/api/level-profiles/${id}?version=1`)).status).toBe(200);
  });

  it('may be gone when an end that was read by one comes back', async () => {
    const id = randomUUID();
    await server.put(`/api/level-profiles/${id}`, { ...body, name: 'Short-lived radio' });
    const { link } = await server.link('Net loft');
    const http = { url: 'http://10.0.0.9/', ownCertificate: false };
    const source = { version: -1, way: 'http', profileId: id, http };
    expect((await server.put(`/api/links/${link.id}/level-sources/near`, source)).status).toBe(200);
    expect((await server.delete(`/api/links/${link.id}?version=${link.version}`)).status).toBe(200);
    expect((await server.delete(`/api/level-profiles/${id}?version=0`)).status).toBe(200);
    const [removal] = await server.sequelize.query<{ id: string }>('SELECT id FROM removal ORDER BY at DESC LIMIT 1', {
      type: QueryTypes.SELECT,
    });
    expect((await server.post(`/api/removals/${removal?.id}/undo`)).status).toBe(200);
    const back = (await server.get(`/api/links/${link.id}/level-sources`)).body as LevelSourcesView;
    expect(back.near).toMatchObject({ way: 'http', profileId: null });
  });

  it('go out as a file and come in again, and one that is wrong keeps no other out', async () => {
    const file = (await server.get('/api/level-profiles/export')).body as ProfileDocument;
    const good = { ...body, id: randomUUID(), name: 'Mast radio', version: undefined };
    const bad = { ...good, id: randomUUID(), name: 'Bad radio', level: { ...value, scale: 'x' } };
    const text = JSON.stringify({ ...file, profiles: [...file.profiles, bad, good, { name: 'No id' }] });
    const read = (await server.post('/api/level-profiles/import', { text })).body;
    expect(read.taken).toEqual([...file.profiles.map(({ name }) => name), 'Mast radio']);
    expect(read.refused).toEqual([
      { name: 'Bad radio', reasons: [expect.stringContaining('factor')] },
      { name: 'No id', reasons: ['its id is no UUID'] },
    ]);
    for (const wrong of ['{', '[]', '{"format":"other"}', JSON.stringify({ ...file, formatVersion: 9 })])
      expect((await server.post('/api/level-profiles/import', { text: wrong })).status, wrong).toBe(422);
  });
});

describe('an alignment with levels of several ways', () => {
  let id: string;
  const view = async (): Promise<AlignmentView> => (await server.get(`/api/alignments/${id}`)).body;
  const typed = (rslDbm: number | null, changes: object = {}) =>
    server.post(`/api/alignments/${id}/levels`, { id: randomUUID(), end: 'near', rslDbm, ...changes });

  beforeAll(async () => {
    await choose('near', { way: 'typed' });
    const started = await server.post(`/api/links/${linkId}/alignments`, {
      nearSource: 'scale',
      farSource: 'none',
      order: 'endByEnd',
    });
    id = started.body.id as string;
  });
  afterAll(() => server.post(`/api/alignments/${id}/abandon`));

  it('takes what is typed once, and what lies between as nothing new', async () => {
    const twice = { id: randomUUID() };
    for (const changes of [twice, twice]) expect((await typed(-61, changes)).status).toBe(200);
    await typed(null);
    expect((await typed(63)).body.detail).toContain('level is 63');
    expect((await typed(-60, { end: 'far' })).body.detail).toContain('the far end is not typed');
    await vi.waitFor(async () => {
      const near = (await view()).samples.filter(({ end }) => end === 'near');
      expect(near.filter(({ isRepeat }) => !isRepeat).map(({ rslDbm }) => rslDbm)).toEqual([-61, null]);
      expect(near.length).toBeGreaterThan(4);
    });
  });

  it('goes on with another way from the moment on when it is chosen, and is known no better than its worst', async () => {
    const agent = (await server.post(`/api/standin/links/${linkId}/radios/near/agent`)).body as StandinAgent;
    const { host, port, community } = agent;
    expect((await choose('near', snmp({ host, port, community }))).status).toBe(200);
    await vi.waitFor(async () => {
      const last = (await view()).samples.filter(({ end, isRepeat }) => end === 'near' && !isRepeat).at(-1);
      expect(last?.told?.noiseDbm).toBeCloseTo(-94, 6);
      expect(last?.ageS).toBeGreaterThan(0);
    });
    const { levelsFrom } = await view();
    expect(levelsFrom.map(({ end, way }) => `${end} ${way}`)).toEqual(['near typed', 'far standin', 'near snmp']);
    const [row] = await server.sequelize.query(`SELECT evidence_kind FROM alignment WHERE id = '${id}'`, {
      type: QueryTypes.SELECT,
    });
    expect(row).toEqual({ evidence_kind: 'standin' });
  });

  it('puts a pasted table to its times, once, with the angles of those moments', async () => {
    await choose('near', { way: 'table' });
    const paste = async (text: string, lastAgoS?: number): Promise<LevelTableResult> =>
      (await server.post(`/api/alignments/${id}/tables`, { end: 'near', text, lastAgoS })).body;
    await pause(500);
    const now = Date.now();
    const lines = [0.4, 0.3, 0.2].map((ago, i) => `${new Date(now - 1000 * ago).toISOString()},${-70 - i}`);
    expect(await paste(lines.join('\n'))).toEqual({ taken: 3, known: 0, refused: [], unused: [] });
    expect(await paste([...lines, 'noon,-60'].join('\n'))).toMatchObject({
      taken: 0,
      known: 3,
      refused: [{ line: 4 }],
    });
    const byClock = await paste('time,level\n10:00:00,-55\n10:00:00.5,-56', 0.2);
    expect(byClock).toMatchObject({ taken: 2 });
    // The next table of the same radio goes by the clock of the first: its old lines are known.
    expect(await paste('time,level\n10:00:00,-55\n10:00:00.5,-56\n10:00:00.6,-57')).toMatchObject({
      taken: 1,
      known: 2,
    });
    expect((await paste(`${new Date(now - 3_600_000).toISOString()},-60`)).refused[0]?.reason).toContain(
      'before this alignment',
    );
    const near = (await view()).samples.filter(({ end, isRepeat }) => end === 'near' && !isRepeat);
    expect(near.map(({ rslDbm }) => rslDbm)).toEqual(expect.arrayContaining([-55, -56, -57, -70, -71, -72]));
  });

  it('knows who has it open, and takes what they call to each other as taps that turn nothing', async () => {
    const device = randomUUID();
    const joined = await server.post(`/api/alignments/${id}/presence`, { device, end: 'far' });
    expect(joined.body.present).toEqual([{ device, end: 'far', name: expect.any(String) }]);
    const hold = { id: randomUUID(), end: 'far', kind: 'hold' };
    expect((await server.post(`/api/alignments/${id}/marks`, hold)).status).toBe(200);
    expect((await view()).marks.at(-1)).toMatchObject({ kind: 'hold', end: 'far' });
  });

  it('takes the attitude of a phone before that of a simulated one', async () => {
    await server.post(`/api/alignments/${id}/abandon`);
    await choose('near', { way: 'standin' });
    const started = await server.post(`/api/links/${linkId}/alignments`, {
      nearSource: 'phone',
      farSource: 'none',
      order: 'endByEnd',
    });
    id = started.body.id as string;
    const angle = { end: 'near', azimuthDeg: 1234.5, tiltDeg: -3, azimuthBy: 'relative' };
    expect((await server.post(`/api/alignments/${id}/angles`, angle)).status).toBe(200);
    await vi.waitFor(async () => {
      const near = (await view()).samples.filter(({ end }) => end === 'near');
      expect(near.some(({ phoneAzimuthDeg }) => phoneAzimuthDeg === 1234.5)).toBe(true);
    });
    await vi.waitFor(async () => {
      // It has not been heard of since, so that it is not believed any more.
      expect((await view()).samples.filter(({ end }) => end === 'near').at(-1)?.phoneAzimuthDeg).not.toBe(1234.5);
    }, 3000);
    const link = (await server.get(`/api/links/${linkId}`)).body as LinkView;
    expect(link.running?.levelsFrom.map(({ way }) => way)).toEqual(['standin', 'standin']);
  });
});

describe('the verdict at the end', () => {
  it('rests on what was read at last, not on what a radio repeats, and stands until the mount is turned', async () => {
    const record = await loadLink(linkId);
    const plan: AlignmentPlan = {
      nearSource: 'scale',
      farSource: 'scale',
      order: 'endByEnd',
      ends: ['near', 'far'],
      expectedDbm: { near: -50, far: -50 },
    };
    const at = (end: End, tS: number, rslDbm: number, isRepeat: boolean): Reading => ({
      ...{ end, tS, rslDbm, isRepeat, chainsDbm: [] },
      ...{ phoneAzimuthDeg: null, phoneTiltDeg: null },
    });
    const readings = Array.from({ length: 60 }, (_, tS) => [
      at('near', tS, tS < 50 ? -70 : -51, tS !== 10 && tS !== 50),
      at('far', tS, -60, tS !== 10),
    ]).flat();
    const result = await judge(plan, record, readings, []);
    expect(result.near).toMatchObject({ rslDbm: -51, diagnosis: 'clear', chainsDbm: [] });
    expect(result.far.rslDbm).toBe(-60);
    const turned = await judge(plan, record, readings, [{ kind: 'notch', direction: 1, end: 'far', tS: 30 }]);
    expect(turned.near.rslDbm).toBe(-51);
    expect(turned.far.rslDbm).toBeNull();
  });
});

describe('levels that are typed on the roof and nothing else', () => {
  let job: string;
  let roof: string;
  let id: string;
  beforeAll(async () => {
    roof = await server.linkId('Hatchery');
    job = server.jobId;
    await JobRow.update({ practice: false }, { where: { id: job } });
    await server.sequelize.query("UPDATE link SET version = version + 1 WHERE name = 'Hatchery'");
    id = (
      await server.post(`/api/links/${roof}/alignments`, { nearSource: 'none', farSource: 'none', order: 'endByEnd' })
    ).body.id as string;
  });
  afterAll(() => JobRow.update({ practice: true }, { where: { id: job } }));
  const aim = async () => (await server.link('Hatchery')).state.steps.find((s) => s.step === 'aim');

  it('are how a real job is read where nothing was chosen: no stand-in tells anything', async () => {
    expect((await server.get(`/api/links/${roof}/level-sources`)).body).toMatchObject({
      near: { way: 'typed', version: -1 },
      far: { way: 'typed', version: -1 },
    });
    await pause(400);
    const { samples } = (await server.get(`/api/alignments/${id}`)).body as AlignmentView;
    expect(samples.length).toBeGreaterThan(1);
    expect(samples.every(({ rslDbm }) => rslDbm === null)).toBe(true);
  });

  it('hold at both ends when they are as predicted; what was not heard is asked about first', async () => {
    const asked = await server.post(`/api/alignments/${id}/finish`);
    expect(asked).toMatchObject({ status: 409, body: { title: 'Nothing heard' } });
    expect(asked.body.detail).toBe(
      'The near end heard nothing, and the far end heard nothing. Read the level once more, or store it so.',
    );
    const { expectedDbm } = (await server.get(`/api/alignments/${id}`)).body as AlignmentView;
    const tell = (end: End, rslDbm: number) =>
      server.post(`/api/alignments/${id}/levels`, { id: randomUUID(), end, rslDbm });
    await tell('near', Math.round(expectedDbm.near) - 9);
    await tell('near', Math.round(expectedDbm.near));
    expect((await server.post(`/api/alignments/${id}/finish`)).body.detail).toMatch(/^The far end heard nothing\./);
    await tell('far', Math.round(expectedDbm.far));
    await pause(300);
    // Somebody taps that the mount turns on: the level is of another direction.
    const turn = (direction: number) =>
      server.post(`/api/alignments/${id}/marks`, { id: randomUUID(), end: 'far', kind: 'turning', direction });
    await turn(1);
    await turn(0);
    expect((await server.post(`/api/alignments/${id}/finish`)).body.detail).toContain('not since its mount was turned');
    await tell('far', Math.round(expectedDbm.far));
    await pause(300);
    const { result } = (await server.post(`/api/alignments/${id}/finish`)).body as AlignmentView;
    expect(result?.near).toMatchObject({ rslDbm: Math.round(expectedDbm.near), diagnosis: 'clear', chainsDbm: [] });
    expect(result?.far).toMatchObject({ rslDbm: Math.round(expectedDbm.far), diagnosis: 'clear' });
    expect(await aim()).toMatchObject({ state: 'holds', evidence: { kind: 'told' } });
  });

  it('are stored as nothing heard where that is meant', async () => {
    const silent = (
      await server.post(`/api/links/${roof}/alignments`, { nearSource: 'none', farSource: 'none', order: 'endByEnd' })
    ).body.id as string;
    expect((await server.post(`/api/alignments/${silent}/finish`)).status).toBe(409);
    expect((await server.post(`/api/alignments/${silent}/finish`, { silent: true })).status).toBe(200);
    expect(await aim()).toMatchObject({ state: 'fails', because: 'nothing was heard' });
  });
});
