import { tokenHeader } from '@kivram/contract/routes/route';
import type { TimelineView } from '@kivram/contract/views/job';
import type { InvitationView, PeopleView, SessionView } from '@kivram/contract/views/people';
import { X509Certificate } from 'node:crypto';
import { mkdtemp, readFile, rm, stat } from 'node:fs/promises';
import { connect, type AddressInfo, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import tls from 'node:tls';
import { pino } from 'pino';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { certificateFor, isPrivate, type Certificate } from '../src/lan/certificate';
import { mostLinesOfOne, Opening } from '../src/lan/opening';
import { addPerson, invite, Phone } from './phone';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
let opening: Opening;
let folder: string;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'kivram-lan-'));
  opening = await Opening.prepare(folder, 0, pino({ level: 'silent' }));
  server = await startTestServer({ opening });
});
afterAll(async () => {
  await server.close();
  await rm(folder, { recursive: true });
});

const phone = (): Phone => new Phone(opening.view().addresses[0] ?? '', opening.authority);
const forgetTries = () => server.sequelize.query('DELETE FROM sign_in_try');
const people = async (): Promise<PeopleView['people']> =>
  ((await server.get(`/api/jobs/${server.jobId}/people`)).body as PeopleView).people;

/** Somebody new, signed in on a phone of theirs. */
async function signedIn(
  name: string,
  role: 'reader' | 'installer' | 'lead',
  jobId = server.jobId,
): Promise<{ id: string; phone: Phone }> {
  const id = await addPerson(server, name, role, jobId);
  const theirs = phone();
  expect((await theirs.accept((await invite(server, id)).code)).status).toBe(200);
  return { id, phone: theirs };
}

async function newJob(name: string): Promise<string> {
  const fields = { name, customer: '', country: 'XT', units: 'metric', workerName: 'Boss' };
  return ((await server.post('/api/jobs', fields)).body as { id: string }).id;
}

/** Somebody who signs in already becomes somebody of another job. */
async function joinAs(theirs: Phone, memberId: string, sameAs: string): Promise<void> {
  const { code } = (await server.post(`/api/people/${memberId}/invitations`, { sameAs })).body as InvitationView;
  expect((await theirs.accept(code)).status).toBe(200);
}

describe('an invitation', () => {
  it('lets one phone in, once, as the person it was made for', async () => {
    const id = await addPerson(server, 'Runa Holm', 'installer');
    const { code, ...told } = await invite(server, id);
    expect(told).toMatchObject({ name: 'Runa Holm', role: 'installer' });
    expect(Buffer.from(code, 'base64url')).toHaveLength(16);
    const [first, second] = [phone(), phone()];
    const answer = await first.accept(code);
    expect(answer.body).toMatchObject({
      isHere: false,
      person: { name: 'Runa Holm', hasPassword: false, mayReset: true },
      members: { [server.jobId]: { id, role: 'installer' } },
    } satisfies Partial<SessionView>);
    const cookie = String(answer.headers['set-cookie']);
    for (const part of ['HttpOnly', 'SameSite=Strict', 'Secure', 'Path=/']) expect(cookie).toContain(part);
    expect((await second.accept(code)).body.title).toBe('No such invitation');
    expect((await second.get('/api/jobs')).status).toBe(401);
    // What they do from there stands under their name.
    expect((await first.post(`/api/jobs/${server.jobId}/visits`, visit)).status).toBe(200);
    const { events } = (await server.get(`/api/jobs/${server.jobId}/events`)).body as TimelineView;
    expect(events[0]).toMatchObject({ kind: 'visit', crewMemberId: id });
  });

  const visit = { startedAt: '2026-05-04T08:00:00Z', purpose: 'After the storm', company: '', note: '' };

  it('is over after ten minutes, when another one is made, and when they leave the job', async () => {
    const id = await addPerson(server, 'Late Larsen', 'reader');
    const late = await invite(server, id);
    expect(Date.parse(late.expiresAt) - Date.now()).toBeGreaterThan(9.8 * 60_000);
    await server.sequelize.query(`UPDATE invitation SET expires_at = now() - interval '1 second'`);
    expect((await phone().accept(late.code)).status).toBe(403);
    const older = await invite(server, id);
    const newer = await invite(server, id);
    expect((await phone().accept(older.code)).status).toBe(403);
    await server.patch(`/api/people/${id}`, { left: true });
    expect((await phone().accept(newer.code)).status).toBe(403);
    expect((await server.post(`/api/people/${id}/invitations`)).body.title).toBe('Left');
  });

  it('is nowhere in the clear, and cannot be guessed', async () => {
    const { code } = await invite(server, await addPerson(server, 'Guessed at', 'reader'));
    const [{ all } = { all: '' }] = (
      await server.sequelize.query(
        'SELECT (SELECT string_agg(i::text, chr(10)) FROM invitation i) || (SELECT string_agg(e::text, chr(10)) FROM event e) AS all',
      )
    )[0] as { all: string }[];
    expect(all).not.toContain(code);
    const stranger = phone();
    const answers: number[] = [];
    for (let i = 0; i < 22; i++) answers.push((await stranger.accept(`wrong-${i}`)).status);
    expect(answers.slice(0, 10)).toEqual(Array<number>(10).fill(403));
    expect(answers.at(-1)).toBe(429);
    // Now even the right one waits, and says how long.
    const right = await phone().accept(code);
    expect(right.status).toBe(429);
    expect(right.body.detail).toMatch(/Wait \d+ minutes?/);
    await forgetTries();
    expect((await phone().accept(code)).status).toBe(200);
  });

  it('is not given away by who leads only some of the jobs that somebody works on', async () => {
    const { phone: lead } = await signedIn('Local lead', 'lead');
    const elsewhere = await newJob('Elsewhere');
    const bo = await signedIn('Busy Bo', 'lead', elsewhere);
    const id = await addPerson(server, 'Bo', 'reader');
    await joinAs(bo.phone, id, bo.id);
    expect((await lead.post(`/api/people/${id}/invitations`)).body.title).toBe('Works elsewhere too');
    await forgetTries();
    const { code } = await invite(server, id); // at the computer itself
    expect(Object.keys((await phone().accept(code)).body.members as object)).toHaveLength(2);
  });

  it('makes nobody somebody else by their name', async () => {
    // A job of one's own, and in it somebody called like another job's lead, who was never invited.
    const { phone: attacker } = await signedIn('Mallory', 'installer');
    const fields = { name: 'A trap', customer: '', country: 'XT', units: 'metric', workerName: 'Mallory' };
    const trap = ((await attacker.post('/api/jobs', fields)).body as { id: string }).id;
    const added = await attacker.post(`/api/jobs/${trap}/people`, { name: 'Real Lead', role: 'lead' });
    const double = (added.body as PeopleView).people.find((person) => person.name === 'Real Lead')?.id ?? '';
    const { code } = (await attacker.post(`/api/people/${double}/invitations`)).body as InvitationView;
    const asDouble = phone();
    expect((await asDouble.accept(code)).status).toBe(200);
    // Then the real one comes in.
    const real = await signedIn('Real Lead', 'lead');
    const seen = async (who: Phone): Promise<string[]> =>
      Object.keys(((await who.get('/api/session')).body as SessionView).members);
    expect(await seen(asDouble)).toEqual([trap]);
    expect(await seen(real.phone)).toEqual([server.jobId]);
    expect((await asDouble.get(`/api/jobs/${server.jobId}`)).status).toBe(403);
    // They sign in by two names.
    expect(((await real.phone.get('/api/session')).body as SessionView).person?.name).toBe('Real Lead 2');
    await forgetTries();
  });

  it('says who is the same in two jobs, by whoever leads both, and the one who is meant confirms it', async () => {
    const other = await newJob('The pier');
    const known = await signedIn('Kari Voll', 'installer');
    const { phone: leadsOne } = await signedIn('Leads one', 'lead', other);
    const place = await addPerson(server, 'Kari', 'reader', other);
    // Who leads this job only knows of nobody elsewhere, and gives nobody's part away.
    expect((await leadsOne.get(`/api/jobs/${other}/people`)).body).toMatchObject({ known: [] });
    expect((await leadsOne.post(`/api/people/${place}/invitations`, { sameAs: known.id })).status).toBe(404);
    expect(((await server.get(`/api/jobs/${other}/people`)).body as PeopleView).known).toContainEqual({
      memberId: known.id,
      name: 'Kari Voll',
      jobName: expect.any(String),
    });
    const { code, joinsAs } = (await server.post(`/api/people/${place}/invitations`, { sameAs: known.id }))
      .body as InvitationView;
    expect(joinsAs).toBe('Kari Voll');
    for (const somebody of [phone(), leadsOne])
      expect((await somebody.accept(code)).body).toMatchObject({ status: 403, title: 'Sign in first' });
    // Whoever leads the first job has let themselves in as Kari before, and knows a password.
    const shadow = phone();
    await shadow.accept((await invite(server, known.id)).code);
    await shadow.ask('put', '/api/session/password', { password: 'known to another' });
    const answer = await known.phone.accept(code);
    expect((await shadow.get('/api/session')).body).toMatchObject({ person: null });
    const back = { name: 'Kari Voll', password: 'known to another' };
    expect((await phone().enter('/api/session/password', back)).status).toBe(403);
    expect(answer.body).toMatchObject({
      person: { name: 'Kari Voll' },
      members: { [other]: { role: 'reader' }, [server.jobId]: { role: 'installer' } },
    });
    expect((await known.phone.accept(code)).status).toBe(403);
    // Whoever signs in already is nobody else any more.
    const taken = await server.post(`/api/people/${place}/invitations`, { sameAs: known.id });
    expect(taken.body.title).toBe('Signs in already');
    await forgetTries();
  });
});

describe('a session', () => {
  it('is listed with its device and its last use, and can be ended by who leads the job', async () => {
    const { id, phone: theirs } = await signedIn('Ended Ede', 'reader');
    const listed = (await people()).find((person) => person.id === id)?.sessions ?? [];
    expect(listed).toHaveLength(1);
    expect(listed[0]).toMatchObject({ device: 'Chrome on Android', isThis: false });
    expect(Date.now() - Date.parse(listed[0]?.usedAt ?? '')).toBeLessThan(60_000);
    const sid = await server.sequelize.query(`SELECT sid FROM session WHERE id = '${listed[0]?.id ?? ''}'`);
    expect(JSON.stringify(listed)).not.toContain((sid[0] as { sid: string }[])[0]?.sid);
    // Readers see their own sessions only, and end no others.
    const seen = ((await theirs.get(`/api/jobs/${server.jobId}/people`)).body as PeopleView).people;
    expect(seen.flatMap((person) => person.sessions)).toEqual([
      { ...listed[0], isThis: true, usedAt: expect.any(String) },
    ]);
    const { phone: other } = await signedIn('Other Odd', 'reader');
    expect((await other.ask('delete', `/api/sessions/${listed[0]?.id ?? ''}`, {})).status).toBe(404);
    expect((await server.delete(`/api/sessions/${listed[0]?.id ?? ''}`)).body).toEqual({ ended: true });
    expect((await theirs.get('/api/jobs')).status).toBe(401);
  });

  it('loses at once what its person may no longer, and ends when they sign out', async () => {
    const { id, phone: theirs } = await signedIn('Changing Cho', 'installer');
    const add = () =>
      theirs.post(`/api/jobs/${server.jobId}/places`, {
        name: `P${Math.random()}`,
        latitudeDeg: 33,
        longitudeDeg: -37,
        groundHeightM: 2,
        kind: 'site',
      });
    expect((await add()).status).toBe(200);
    await server.patch(`/api/people/${id}`, { role: 'reader' });
    expect((await add()).body.title).toBe('Not your part');
    await server.patch(`/api/people/${id}`, { left: true });
    expect((await theirs.get(`/api/jobs/${server.jobId}`)).status).toBe(403);
    expect((await theirs.ask('delete', '/api/session', {})).status).toBe(200);
    expect((await theirs.get('/api/jobs')).status).toBe(401);
  });

  it('takes its streams with it when it ends', async () => {
    const { id, phone: theirs } = await signedIn('Watching Wei', 'reader');
    const { link } = await server.link('Net loft');
    const aim = { nearSource: 'phone', farSource: 'phone', order: 'endByEnd' };
    const alignment = (await server.post(`/api/links/${link.id}/alignments`, aim)).body as { id: string };
    let pieces = 0;
    const over = new Promise<void>((resolve) => {
      const stream = theirs.get(`/api/alignments/${alignment.id}/stream`).buffer(false);
      void stream
        .parse((response, done) => {
          const source = response as unknown as NodeJS.ReadableStream;
          source.on('data', () => pieces++);
          source.on('error', () => undefined);
          source.on('close', () => done(null, null));
        })
        .then(
          () => resolve(),
          () => resolve(),
        );
    });
    await expect.poll(() => pieces).toBeGreaterThan(2);
    const session = (await people()).find((person) => person.id === id)?.sessions[0];
    await server.delete(`/api/sessions/${session?.id ?? ''}`);
    await over;
    await server.post(`/api/alignments/${alignment.id}/abandon`);
  }, 20_000);

  it('is a new one for whoever signs in, and at the computer itself nobody does', async () => {
    const { code } = await invite(server, await addPerson(server, 'Fixed Fay', 'reader'));
    const here = request.agent(server.app).set('host', '127.0.0.1');
    expect((await here.post('/api/session/invitation').send({ code })).body.title).toBe('Nobody needs to');
    expect((await server.get('/api/session')).body).toMatchObject({ isHere: true, person: null, token: null });
  });

  it('signed with another key is none', async () => {
    const theirs = phone();
    const forged = await theirs.get('/api/jobs').set('cookie', 'kivram-00000000=s%3Aabc.def');
    expect(forged.status).toBe(401);
  });
});

describe('a password', () => {
  it('lets somebody back in, is kept as Argon2id, and is tried a few times only', async () => {
    const { phone: theirs } = await signedIn('Pass Pia', 'reader');
    const put = (body: object) => theirs.ask('put', '/api/session/password', body);
    expect((await put({ password: 'short' })).body.detail).toContain('10 to 200');
    expect((await put({ password: 'gulls over the pier' })).body.person).toMatchObject({ hasPassword: true });
    const [rows] = await server.sequelize.query(`SELECT password_hash FROM person WHERE name = 'Pass Pia'`);
    expect(JSON.stringify(rows)).toMatch(/\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    await theirs.ask('delete', '/api/session', {});

    await forgetTries();
    const back = phone();
    const sign = (name: string, password: string) => back.enter('/api/session/password', { name, password });
    expect((await sign('Pass Pia', 'wrong')).status).toBe(403);
    expect((await sign('Nobody at all', 'gulls over the pier')).body.detail).toBe(
      (await sign('Pass Pia', 'x')).body.detail,
    );
    expect((await sign(' pass pia ', 'gulls over the pier')).body.person).toMatchObject({ name: 'Pass Pia' });
    // A phone that is found signed in does not lock its owner out.
    const change = (before?: string) =>
      back.ask('put', '/api/session/password', { password: 'another long one', before });
    expect((await change()).status).toBe(403);
    expect((await change('gulls over the pier')).status).toBe(200);
    // From many addresses the person is the limit.
    await forgetTries();
    for (let i = 0; i < 10; i++) expect((await sign('Pass Pia', `guess ${i}`)).status).toBe(403);
    expect((await sign('Pass Pia', 'another long one')).status).toBe(429);
    await forgetTries();
  });

  it('that was forgotten is replaced by whoever was invited just now, once', async () => {
    const { id, phone: theirs } = await signedIn('Forgetful Fia', 'reader');
    const put = (who: Phone, password: string) => who.ask('put', '/api/session/password', { password });
    expect((await put(theirs, 'gulls over the pier')).status).toBe(200);
    // An invitation of long ago is no key to a password that was set since.
    expect((await put(theirs, 'terns over the pier')).status).toBe(403);
    const again = phone();
    await again.accept((await invite(server, id)).code);
    await server.sequelize.query(`UPDATE session SET sess = jsonb_set(sess::jsonb, '{begunAt}', to_jsonb(
      (sess ->> 'begunAt')::bigint - 16 * 60000)) WHERE sess ->> 'by' = 'invitation'`);
    expect((await put(again, 'terns over the pier')).status).toBe(403);
    const justNow = phone();
    await justNow.accept((await invite(server, id)).code);
    expect((await put(justNow, 'terns over the pier')).status).toBe(200);
    await forgetTries();
  });

  it('is set on the phone, not at the computer where nobody signs in', async () => {
    expect((await server.put('/api/session/password', { password: 'long enough for all' })).status).toBe(409);
  });
});

describe('the crew', () => {
  it('always has somebody who leads the job', async () => {
    const leads = (await people()).filter((person) => person.role === 'lead' && !person.leftAt);
    for (const other of leads.filter((person) => person.id !== server.crewMemberId))
      expect((await server.patch(`/api/people/${other.id}`, { role: 'installer' })).status).toBe(200);
    for (const change of [{ role: 'reader' }, { left: true }])
      expect((await server.patch(`/api/people/${server.crewMemberId}`, change)).body.title).toBe('The last lead');
    const { events } = (await server.get(`/api/jobs/${server.jobId}/events`)).body as TimelineView;
    expect(events[0]?.kind).toBe('people');
  });

  it('is added to by many at once: nobody is told to try again', async () => {
    const names = Array.from({ length: 12 }, (_, i) => `Hand ${i + 1}`);
    const added = names.map((name) => server.post(`/api/jobs/${server.jobId}/people`, { name, role: 'reader' }));
    expect((await Promise.all(added)).map(({ status }) => status)).toEqual(names.map(() => 200));
    expect((await people()).map(({ name }) => name)).toEqual(expect.arrayContaining(names));
  });

  it('takes nobody twice, nor back by their name alone', async () => {
    const add = () => server.post(`/api/jobs/${server.jobId}/people`, { name: 'Twice Tove', role: 'reader' });
    const id = ((await add()).body as PeopleView).people.find((person) => person.name === 'Twice Tove')?.id;
    expect((await add()).body.title).toBe('Name taken');
    await server.patch(`/api/people/${id ?? ''}`, { left: true });
    expect((await add()).body.detail).toContain('take them back below');
    await server.patch(`/api/people/${id ?? ''}`, { left: false });
    expect((await people()).find((person) => person.id === id)?.leftAt).toBeNull();
  });
});

/** What somebody who trusts the authority makes of a certificate: OpenSSL's word for it. */
function verify({ chain, key, authority }: Certificate): Promise<string> {
  return new Promise((resolve) => {
    const listener = tls.createServer({ cert: chain, key }).listen(0, '127.0.0.1', () => {
      const { port } = listener.address() as AddressInfo;
      const client = tls.connect({ port, host: '127.0.0.1', ca: authority.pem, checkServerIdentity: () => undefined });
      const end = (word: string): void => {
        client.destroy();
        listener.close();
        resolve(word);
      };
      client.once('secureConnect', () => end('trusted'));
      client.once('error', (error) => end(error.message));
    });
  });
}

describe('the door to the network', () => {
  it('has a certificate of its own computer, which vouches for private addresses and nothing else', async () => {
    const authority = new X509Certificate(opening.authority);
    expect(authority.ca).toBe(true);
    expect(opening.view().authorityFingerprint).toBe(authority.fingerprint256);
    expect(await verify(await certificateFor(['10.1.2.3'], folder))).toBe('trusted');
    // Whoever steals its key signs for no server of the internet.
    expect(await verify(await certificateFor(['8.8.4.4'], folder))).toBe('permitted subtree violation');
    const answer = await request(opening.view().addresses[0] ?? '')
      .get('/kivram-authority.crt')
      .ca(opening.authority);
    expect(answer.headers['content-type']).toContain('x509-ca-cert');
    for (const file of ['authority.key', 'authority.crt'])
      expect((await stat(join(folder, file))).mode & 0o777).toBe(0o600);
  });

  it('keeps its authority over a restart, so that phones need not be told again', async () => {
    const before = await readFile(join(folder, 'authority.crt'), 'utf8');
    const again = await Opening.prepare(folder, 0, pino({ level: 'silent' }));
    expect(again.authority).toBe(before);
    expect(again.view().fingerprint).not.toBe(opening.view().fingerprint);
  });

  it.each([
    ['10.0.0.1', true],
    ['172.15.255.255', false],
    ['172.16.0.1', true],
    ['172.31.255.255', true],
    ['172.32.0.1', false],
    ['192.168.255.1', true],
    ['192.169.0.1', false],
    ['100.64.0.1', true],
    ['100.128.0.1', false],
    ['169.254.9.9', true],
    ['8.8.4.4', false],
  ])('takes %s for an address of a private network: %s (RFC 1918, 6598, 3927)', (address, is) => {
    expect(isPrivate(address)).toBe(is);
  });

  it('answers under its own address only, and changes only from its own pages', async () => {
    const named = request(opening.view().addresses[0] ?? '')
      .get('/api/settings')
      .disableTLSCerts();
    expect((await named.set('host', 'kivram.example')).status).toBe(403);
    const { phone: lead } = await signedIn('Origin Olve', 'lead');
    const path = `/api/jobs/${server.jobId}/people`;
    const from = (origin: string | null) => {
      const asked = lead.post(path, { name: 'X', role: 'reader' });
      return origin === null ? asked.unset('origin') : asked.set('origin', origin);
    };
    for (const origin of [null, 'https://elsewhere.example', 'null']) expect((await from(origin)).status).toBe(403);
    expect((await lead.post(path, { name: 'Y', role: 'reader' }).set(tokenHeader, 'x')).status).toBe(403);
  });

  it('keeps a line open for longer than a phone is quiet', async () => {
    expect((await phone().get('/')).headers['keep-alive']).toBe('timeout=75');
  });

  it('cuts off a device that opens more lines than any browser does, until it lets go', async () => {
    const { port } = new URL(opening.view().addresses[0] ?? '');
    const all = Array.from({ length: mostLinesOfOne + 50 }, () => connect(Number(port), '127.0.0.1'));
    const isCut = new Set<Socket>();
    for (const line of all) line.on('error', () => undefined).once('close', () => isCut.add(line));
    await vi.waitFor(() => expect(isCut.size).toBeGreaterThanOrEqual(50));
    expect(isCut.size).toBeLessThan(mostLinesOfOne);
    for (const line of all) line.resetAndDestroy();
    const { get } = phone();
    await vi.waitFor(async () => expect((await get('/api/session')).status).toBe(200));
  });

  it('is closed unless it was opened', async () => {
    const closed = await startTestServer();
    expect((await closed.get('/api/settings')).body).toMatchObject({ opening: null });
    expect((await closed.get('/kivram-authority.crt')).status).toBe(404);
    await closed.close();
  });
});
