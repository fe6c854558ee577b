import type { JobDocument } from '@kivram/contract/jobDocument/document';
import type { TimelineView } from '@kivram/contract/views/job';
import type { LinkView, RevealedView } from '@kivram/contract/views/link';
import { randomBytes } from 'node:crypto';
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Writable } from 'node:stream';
import { pino } from 'pino';
import { QueryTypes } from 'sequelize';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { problemOf } from '../src/http/problem';
import { cardDefinition } from '../src/reports/aimCard';
import { loadLink, predictionOf } from '../src/services/linkRecords';
import { viewLink } from '../src/services/linkViews';
import { sealOldPassphrases } from '../src/secrets/sealing';
import { keyFrom, KeyFile, wordsOf } from '../src/secrets/keyFile';
import { Keys } from '../src/services/keys';
import { vault, Vault } from '../src/secrets/vault';
import { startTestServer, type TestServer } from './server';

const key = (): string => randomBytes(32).toString('base64');
const secret = 'grep-for-me-7431-herons';

describe('the vault', () => {
  const vault = new Vault(key());

  it('opens what it sealed, and seals the same text differently each time', () => {
    const [a, b] = [vault.seal(secret), vault.seal(secret)];
    expect(a).not.toBe(b);
    expect(a).not.toContain(secret);
    expect([vault.open(a), vault.open(b)]).toEqual([secret, secret]);
    expect(vault.open(vault.seal('Größe 日本'))).toBe('Größe 日本');
  });

  it('opens nothing that was changed, cut, or sealed with another key', () => {
    const sealed = vault.seal(secret);
    const at = sealed.length - 3;
    const changed = sealed.slice(0, at) + (sealed[at] === 'A' ? 'B' : 'A') + sealed.slice(at + 1);
    for (const wrong of [changed, sealed.slice(0, 20), 'v1.', new Vault(key()).seal(secret)])
      expect(vault.open(wrong), wrong).toBeNull();
  });

  it.each(['short', randomBytes(31).toString('base64')])('takes no key like %j', (text) => {
    expect(() => new Vault(text)).toThrow('put the key file back');
  });

  it('opens what older keys have sealed, and seals with the first; without one it seals nothing', () => {
    const [older, newer] = [key(), key()];
    const sealed = new Vault(older).seal(secret);
    const both = new Vault(`${newer},${older}`);
    expect(both.open(sealed)).toBe(secret);
    expect(new Vault(newer).open(both.seal(secret))).toBe(secret);
    const none = new Vault('');
    expect(none.open(sealed)).toBeNull();
    expect(() => none.seal(secret)).toThrow('the key that seals them is missing');
  });
});

describe('a passphrase of a radio', () => {
  let server: TestServer;
  let view: LinkView;
  const logged: string[] = [];

  beforeAll(async () => {
    server = await startTestServer();
    // Pictures make files large, and hold no passphrase.
    await server.sequelize.query('DELETE FROM photo');
    const before = await server.link('Ice works');
    const sheet = (end: 'near' | 'far') => ({ ...before[end].sheet?.sheet, passphrase: secret });
    const saved = await server.put(`/api/links/${before.link.id}/sheets`, {
      near: sheet('near'),
      far: sheet('far'),
      nearRevision: before.near.sheet?.revision,
      farRevision: before.far.sheet?.revision,
    });
    expect(saved.status).toBe(200);
    view = saved.body as LinkView;
  });
  afterAll(() => server.close());

  const asked = async (): Promise<RevealedView> =>
    (await server.post(`/api/links/${view.link.id}/passphrases`)).body as RevealedView;
  const revealed = async () => {
    const { near, far } = await asked();
    return { near: near.passphrase, far: far.passphrase };
  };

  it('is not shown, is what was saved where it is asked for, and sealed in its row', async () => {
    expect(JSON.stringify(view)).not.toContain(secret);
    expect(view.near.sheet?.sheet.passphrase).toMatch(/^•/);
    expect(view.far.sheet?.sheet.passphrase).toBe(view.near.sheet?.sheet.passphrase);
    expect(await revealed()).toEqual({ near: secret, far: secret });
    const { events } = (await server.get(`/api/links/${view.link.id}/events`)).body as TimelineView;
    expect(events[0]).toMatchObject({
      summary: 'Looked at passphrases and passwords of both ends',
      crewMemberId: server.crewMemberId,
    });
    const rows = await server.sequelize.query<{ passphrase: string }>(
      'SELECT passphrase FROM sheet WHERE passphrase IS NOT NULL',
      { type: QueryTypes.SELECT },
    );
    expect(rows.length).toBeGreaterThan(5);
    for (const { passphrase } of rows) expect(passphrase).toMatch(/^v1\.[\w-]{50,}$/);
    await expect(server.sequelize.query(`UPDATE sheet SET passphrase = 'in the clear'`)).rejects.toThrow(
      'sheet_passphrase_sealed',
    );
  });

  it('goes through a removal and back, and into a file only where that is asked for', async () => {
    const { id, version } = (await server.link('Ice works')).link;
    await server.delete(`/api/links/${id}?version=${version}`);
    const [removal] = await server.sequelize.query<{ id: string; text: string }>(
      'SELECT id, rows::text AS text FROM removal ORDER BY at DESC LIMIT 1',
      { type: QueryTypes.SELECT },
    );
    expect(removal?.text).not.toContain(secret);
    await server.post(`/api/removals/${removal?.id ?? ''}/undo`);
    expect((await revealed()).far).toBe(secret);
    const file = async (query = '') =>
      (await server.get(`/api/jobs/${server.jobId}/export${query}`)).body as JobDocument;
    expect(JSON.stringify(await file())).not.toContain(secret);
    const whole = await file('?secrets=include');
    expect(JSON.stringify(whole)).toContain(secret);
    const copy = await server.post('/api/jobs/import?copy=yes', whole);
    expect(copy.body.warnings).toEqual([]);
    await server.lead(copy.body.jobId as string);
    const again = (await server.get(`/api/jobs/${copy.body.jobId}/export?secrets=include`)).body as JobDocument;
    expect(JSON.stringify(again)).toContain(secret);
  });

  it('stays what it is when other settings are saved, and what stands for another one is refused', async () => {
    const { near, far, link } = await server.link('Ice works');
    const save = (passphrase: string | null | undefined) =>
      server.put(`/api/links/${link.id}/sheets`, {
        near: { ...near.sheet?.sheet, deviceName: 'ferry-office-2' },
        far: { ...far.sheet?.sheet, passphrase },
        nearRevision: near.sheet?.revision,
        farRevision: far.sheet?.revision,
      });
    const other = await server.link('Net loft');
    expect((await save(other.near.sheet?.sheet.passphrase)).status).toBe(409);
    expect((await save('•short')).body.detail).toContain('8 to 63');
    const saved = (await save(far.sheet?.sheet.passphrase)).body as LinkView;
    expect(saved.near.sheet?.sheet.deviceName).toBe('ferry-office-2');
    expect(await revealed()).toEqual({ near: secret, far: secret });
    // What a hub serves others with is not shown in a proposal either; a new one is.
    const hub = (await Promise.all((await server.links()).map(({ name }) => server.link(name)))).find(
      (view) => view.near.otherStations > 0 && view.near.sheet,
    );
    const proposed = async (id: string | undefined): Promise<string> =>
      (await server.post(`/api/links/${id ?? ''}/sheets/proposal`)).text;
    expect(await proposed(hub?.link.id)).toContain('"passphrase":"•');
    expect(await proposed(other.link.id)).not.toContain('•');
  });

  it('of the radio itself is kept in the same way, beside its user name', async () => {
    const radioId = view.near.radio.id;
    const note = (version: number, password: string = secret) =>
      server.put(`/api/radios/${radioId}/login`, { version, userName: 'keeper', password });
    expect((await note(-1, '')).body.detail).toContain('password');
    expect((await note(-1, '•••')).status).toBe(422);
    expect((await note(-1)).body).toEqual({ userName: 'keeper', hasPassword: true, version: 0 });
    expect((await note(-1)).status).toBe(409);
    expect((await note(0, `${secret}-2`)).body).toMatchObject({ version: 1 });
    const seen = await server.get(`/api/links/${view.link.id}`);
    expect((seen.body as LinkView).logins).toEqual({
      near: { userName: 'keeper', hasPassword: true, version: 1 },
      far: null,
    });
    expect(seen.text).not.toContain(secret);
    expect((await asked()).near.password).toBe(`${secret}-2`);
    expect((await asked()).far.password).toBeNull();
    const [row] = await server.sequelize.query<{ password: string }>('SELECT password FROM radio_login', {
      type: QueryTypes.SELECT,
    });
    expect(row?.password).toMatch(/^v1\.[\w-]{50,}$/);
    // A file has it only where that is asked for; one without it takes nothing away.
    const without = (await server.get(`/api/jobs/${server.jobId}/export`)).body as JobDocument;
    expect(without.logins).toEqual([{ radioId, userName: 'keeper', password: null }]);
    expect((await server.post('/api/jobs/import?replace=yes', without)).status).toBe(200);
    await server.lead();
    expect((await asked()).near.password).toBe(`${secret}-2`);
  });

  it('stands on no timeline, in no list, in no log and in no error', async () => {
    for (const path of [
      `/api/jobs/${server.jobId}/events`,
      `/api/links/${view.link.id}/events`,
      `/api/jobs/${server.jobId}/links`,
      `/api/jobs/${server.jobId}/map`,
      `/api/find?text=herons`,
      '/api/openapi.json',
    ])
      expect((await server.get(path)).text, path).not.toContain(secret);
    // What is printed is made of what anybody may read.
    const card = await server.get(`/api/links/${view.link.id}/aim-cards/near.pdf`);
    expect(card.status).toBe(200);
    const { prediction } = predictionOf(await loadLink(view.link.id));
    if (!prediction) throw new Error('the demo has a prediction');
    const definition = cardDefinition(await viewLink(view.link.id), prediction, 'near', 'metric', '2026-05-04');
    expect(JSON.stringify(definition)).not.toContain(secret);
    const log = pino(
      { level: 'trace' },
      new Writable({ write: (chunk, _, done) => (logged.push(String(chunk)), done()) }),
    );
    const failing = server.sequelize.query(
      `INSERT INTO sheet (radio_id, passphrase) VALUES (gen_random_uuid(), :secret)`,
      {
        replacements: { secret },
      },
    );
    const error: unknown = await failing.catch((problem: unknown) => problem);
    log.error({ err: problemOf(error) }, 'refused');
    expect(JSON.stringify(problemOf(error))).not.toContain(secret);
    expect(logged.join()).not.toContain(secret);
  });

  it("is in none of the database's own files", async () => {
    await server.sequelize.query('CHECKPOINT');
    const [where] = await server.sequelize.query<{ folder: string; oid: string }>(
      `SELECT current_setting('data_directory') AS folder, oid::text FROM pg_database WHERE datname = current_database()`,
      { type: QueryTypes.SELECT },
    );
    const holding = (text: string): string[] => {
      const folders = [join(where?.folder ?? '', 'base', where?.oid ?? ''), join(where?.folder ?? '', 'pg_wal')];
      try {
        return execFileSync('grep', ['-rlaF', text, ...folders], { encoding: 'utf8' })
          .trim()
          .split('\n');
      } catch {
        return []; // grep ends with 1 where nothing is found
      }
    };
    // What is not secret is found there, so that finding nothing means something.
    expect(holding('Tessary').length).toBeGreaterThan(0);
    expect(holding(secret)).toEqual([]);
  });

  it('from before there was a key is sealed when the server starts', async () => {
    await server.sequelize.query('ALTER TABLE sheet DROP CONSTRAINT sheet_passphrase_sealed');
    const radioId = view.near.radio.id;
    await server.sequelize.query(`UPDATE sheet SET passphrase = 'old-and-open-42' WHERE radio_id = :radioId`, {
      replacements: { radioId },
    });
    await sealOldPassphrases(server.sequelize);
    const rows = await server.sequelize.query<{ passphrase: string }>(
      'SELECT passphrase FROM sheet WHERE radio_id = :radioId',
      { type: QueryTypes.SELECT, replacements: { radioId } },
    );
    for (const { passphrase } of rows) expect(passphrase).toMatch(/^v1\./);
    expect((await revealed()).near).toBe('old-and-open-42');
  });

  it('whose key is lost is told of, and comes back with the key, which is told once to be written down', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'kivram-key-'));
    const before = process.env.KIVRAM_KEY ?? '';
    const [lost, path] = [key(), join(folder, 'own.key')];
    try {
      vault().use(lost);
      await server.sequelize.query('UPDATE sheet SET passphrase = :sealed', {
        replacements: { sealed: vault().seal(secret) },
      });
      // The key file is gone: nothing is put in its place.
      vault().use('');
      const keys = await Keys.in(server.sequelize, new KeyFile(path));
      expect(existsSync(path)).toBe(false);
      const { unreadable } = keys.view();
      expect(unreadable).toBeGreaterThan(5);
      expect(keys.view()).toMatchObject({ isMissing: true, mayBeWrittenDown: false });
      expect(keys.warning).toContain(`${unreadable} passphrases and passwords cannot be read`);
      expect(() => vault().seal('x')).toThrow('bring it back under Jobs');
      // What cannot be read does not stop what can.
      expect((await server.link('Ice works')).near.sheet?.sheet.passphrase).toBeNull();
      expect((await server.get(`/api/jobs/${server.jobId}/export?secrets=include`)).status).toBe(200);

      // A new key seals what is typed anew; the old one may still turn up.
      await keys.beginAnew();
      expect(keys.view()).toEqual({ isMissing: false, unreadable, mayBeWrittenDown: true });
      const { words, key: line } = keys.writeDown();
      expect(words.split(' ')).toHaveLength(24);
      expect(keyFrom(words)).toBe(line);
      // An answer that was lost is asked for again; after that it is told no more.
      expect(keys.writeDown().words).toBe(words);
      expect(keys.noteWrittenDown()).toMatchObject({ mayBeWrittenDown: false });
      expect(() => keys.writeDown()).toThrow('was written down already');
      await expect(keys.bringBack('one two three')).rejects.toThrow('it has 24 words');
      await expect(keys.bringBack(key())).rejects.toThrow('none of what cannot be read');
      await keys.bringBack(`  ${wordsOf(lost).toUpperCase().replaceAll(' ', '\n')} `);
      // What was sealed before that has a key of its own.
      expect(keys.view()).toMatchObject({ unreadable: 1 });
      await keys.bringBack(before);
      expect(keys.view()).toEqual({ isMissing: false, unreadable: 0, mayBeWrittenDown: false });
      expect(keys.warning).toBeNull();
      expect((await stat(path)).mode & 0o777).toBe(0o600);
      // Started again, both open and the new one seals.
      vault().use('');
      expect((await Keys.in(server.sequelize, new KeyFile(path))).view().unreadable).toBe(0);
      expect((await revealed()).far).toBe(secret);
    } finally {
      process.env.KIVRAM_KEY = before;
      vault().use(before);
      await rm(folder, { recursive: true });
    }
  });

  // The words of 32 octets of zero, and of 0x7f (BIP-0039, test vectors).
  it.each([
    [0, `${'abandon '.repeat(23)}art`],
    [
      0x7f,
      `${'legal winner thank year wave sausage worth useful '.repeat(2)}legal winner thank year wave sausage worth title`,
    ],
  ])('as words is what the published list says of a key of %i', (octet, words) => {
    const line = Buffer.alloc(32, octet).toString('base64');
    expect(wordsOf(line)).toBe(words);
    expect(keyFrom(words)).toBe(line);
    expect(keyFrom(words.replace(/\w+$/, 'zoo'))).toBeNull();
  });
});
