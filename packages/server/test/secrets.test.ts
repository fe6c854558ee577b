import type { JobDocument, LinkView } from '@kivram/contract';
import { randomBytes } from 'node:crypto';
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { Writable } from 'node:stream';
import { pino } from 'pino';
import { QueryTypes } from 'sequelize';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { problemOf } from '../src/http/problem';
import { sealOldPassphrases } from '../src/secrets/sealing';
import { KeyError, Vault } from '../src/secrets/vault';
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

  it('opens nothing that was changed, cut, or sealed with another key, and says what to do', () => {
    const sealed = vault.seal(secret);
    const at = sealed.length - 3;
    const changed = sealed.slice(0, at) + (sealed[at] === 'A' ? 'B' : 'A') + sealed.slice(at + 1);
    for (const wrong of [changed, sealed.slice(0, 20), 'v1.', new Vault(key()).seal(secret)])
      expect(() => vault.open(wrong), wrong).toThrow(KeyError);
    expect(() => vault.open(changed)).toThrow('Put the key file back');
  });

  it.each([undefined, '', 'short', randomBytes(31).toString('base64')])('takes no key like %j', (text) => {
    expect(() => new Vault(text)).toThrow(/KIVRAM_KEY/);
  });
});

describe('a passphrase of a radio', () => {
  let server: TestServer;
  let view: LinkView;
  const logged: string[] = [];

  beforeAll(async () => {
    server = await startTestServer();
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

  it('is what was saved for whoever may see it, and sealed in its row', async () => {
    expect(view.near.sheet?.sheet.passphrase).toBe(secret);
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
    expect((await server.link('Ice works')).far.sheet?.sheet.passphrase).toBe(secret);
    const file = async (query = '') =>
      (await server.get(`/api/jobs/${server.jobId}/export${query}`)).body as JobDocument;
    expect(JSON.stringify(await file())).not.toContain(secret);
    const whole = await file('?secrets=include');
    expect(JSON.stringify(whole)).toContain(secret);
    const copy = await server.post('/api/jobs/import?copy=yes', whole);
    expect(copy.body.warnings).toEqual([]);
    const again = (await server.get(`/api/jobs/${copy.body.jobId}/export?secrets=include`)).body as JobDocument;
    expect(JSON.stringify(again)).toContain(secret);
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

  it('from before there was a key is sealed when the server starts, and a wrong key is noticed then', async () => {
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
    expect((await server.link('Ice works')).near.sheet?.sheet.passphrase).toBe('old-and-open-42');
    await server.sequelize.query('UPDATE sheet SET passphrase = :other', {
      replacements: { other: new Vault(key()).seal(secret) },
    });
    await expect(sealOldPassphrases(server.sequelize)).rejects.toThrow('Put the key file back');
  });
});
