import type { JobDocument } from '@kivram/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
let light: JobDocument;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const exportJob = async (query = ''): Promise<JobDocument> =>
  (await server.get(`/api/jobs/${server.jobId}/export${query}`)).body;
const comparable = (document: JobDocument) => ({
  ...document,
  exportedAt: '',
  events: document.events.map((e) => ({ ...e, id: 0 })),
});

describe('a job as one document', () => {
  it('comes back as the same job, readings and all, once the job is gone', async () => {
    const before = await exportJob('?secrets=include');
    expect(before.alignments.reduce((sum, a) => sum + a.readings.length, 0)).toBeGreaterThan(1000);
    await server.sequelize.query('DELETE FROM job');
    const result = await server.post('/api/jobs/import', before);
    expect(result.body).toMatchObject({ jobId: server.jobId, links: before.links.length, warnings: [] });
    expect(comparable(await exportJob('?secrets=include'))).toEqual(comparable(before));
  });

  it('leaves passphrases out unless asked, and keeps those that are here when it replaces', async () => {
    const without = await exportJob();
    const secrets = (await exportJob('?secrets=include')).sheets.map((s) => s.sheet.passphrase);
    expect(secrets.filter(Boolean).length).toBeGreaterThan(4);
    for (const secret of secrets) if (secret) expect(JSON.stringify(without)).not.toContain(secret);
    expect((await server.post('/api/jobs/import', without)).status).toBe(409);
    expect((await server.post('/api/jobs/import?replace=yes', without)).body.warnings).toEqual([]);
    expect((await exportJob('?secrets=include')).sheets.map((s) => s.sheet.passphrase)).toEqual(secrets);
  });

  it('says which sheets lack their passphrase on a machine that never had it', async () => {
    // From here on without readings, which cost time and decide nothing below.
    const document = await exportJob();
    light = { ...document, alignments: document.alignments.map((a) => ({ ...a, readings: [] })) };
    await server.sequelize.query('DELETE FROM job');
    expect((await server.post('/api/jobs/import', light)).body.warnings[0]).toContain('no passphrase');
  });

  it.each([
    ['another format', { format: 'else' }, 'no Kivram job'],
    ['a later version', { formatVersion: 9 }, 'format version is 9'],
    ['a field it does not know', { extra: 1 }, 'extra is not known'],
    ['a radio on an air that is not in it', { airs: [] }, 'does not exist in this job'],
  ])('refuses %s, and changes nothing', async (_, change, words) => {
    const answer = await server.post('/api/jobs/import?replace=yes', { ...light, ...change });
    expect(answer.status).toBeGreaterThanOrEqual(409);
    expect(answer.body.detail).toContain(words);
    expect(comparable(await exportJob())).toEqual(comparable(light));
  });

  it('changes nothing when part of a document cannot be', async () => {
    const broken = { ...light, links: light.links.map((l) => ({ ...l, farRadioId: l.nearRadioId })) };
    expect((await server.post('/api/jobs/import?replace=yes', broken)).status).toBe(422);
    expect(comparable(await exportJob())).toEqual(comparable(light));
  });
});
