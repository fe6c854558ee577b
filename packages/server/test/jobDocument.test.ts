import type { JobDocument } from '@kivram/contract/jobDocument/document';
import type { JobLinks } from '@kivram/contract/views/job';
import type { Problem } from '@kivram/contract/problem';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { QueryTypes } from 'sequelize';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { JobRow } from '../src/database/models/job';
import { PlaceRow } from '../src/database/models/place';
import { importJob } from '../src/formats/jobDocument/import';
import { problemOf } from '../src/http/problem';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
let light: JobDocument;
let withSecrets: JobDocument;
beforeAll(async () => {
  server = await startTestServer({ whole: true });
  // Some thousand readings say as much as all of them.
  await server.sequelize.query(
    `DELETE FROM reading r USING (SELECT id, finished_at, row_number() OVER (ORDER BY started_at) AS nth FROM alignment) a
     WHERE r.alignment_id = a.id AND r.at < finished_at - make_interval(secs => CASE nth WHEN 1 THEN 60 ELSE 1 END)`,
  );
  withSecrets = await exportJob('?secrets=include');
  // Readings cost time and decide little.
  light = {
    ...withSecrets,
    alignments: withSecrets.alignments.map((a) => ({ ...a, readings: a.readings.slice(0, 4) })),
  };
});
afterAll(() => server.close());

const exportJob = async (query = '', jobId = server.jobId): Promise<JobDocument> => {
  if (query.includes('secrets')) await server.lead(jobId); // for nobody else
  const answer = await server.get(`/api/jobs/${jobId}/export${query}`);
  expect(answer.status).toBe(200);
  return answer.body as JobDocument;
};
const bring = (document: object, query = '') => server.post(`/api/jobs/import${query}`, document);

/** A document with its identifiers numbered in the order of their rows, so that two copies of a job compare equal. */
function comparable(document: JobDocument): unknown {
  const sorted = <T extends { id: string; name?: string }>(rows: T[], order: (row: T) => string) =>
    [...rows].sort((a, b) => (order(a) < order(b) ? -1 : 1));
  const { links, radios, airs } = document;
  const linkOf = (radioId: string): string =>
    links
      .filter((l) => [l.nearRadioId, l.farRadioId].includes(radioId))
      .map((l) => l.name)
      .join();
  const isFar = ({ radioId }: { radioId: string }): boolean => links.some((l) => l.farRadioId === radioId);
  const nameOf = new Map(document.places.map((p) => [p.id, p.name]));
  const plain = {
    ...document,
    exportedAt: '',
    // That it was taken along is written down each time.
    events: document.events
      .filter(({ summary }) => !summary.startsWith('Took the job along as a file'))
      .map((e) => ({ ...e, id: 0 })),
    airs: sorted(airs, (air) => links.find((l) => l.airId === air.id)?.name ?? ''),
    radios: sorted(radios, (radio) => `${linkOf(radio.id)} ${nameOf.get(radio.placeId) ?? ''}`),
    sheets: [...document.sheets].sort((a, b) => (keyOf(a) < keyOf(b) ? -1 : 1)),
    tests: sorted(document.tests, (t) => `${t.at} ${t.mbps}`),
    obstacles: sorted(document.obstacles ?? [], (o) => `${o.name} ${o.heightM}`),
    alignments: sorted(document.alignments, (a) => a.startedAt).map((a) => ({
      ...a,
      readings: [...a.readings].sort((x, y) => x.tS - y.tS || Number(isFar(x)) - Number(isFar(y))),
    })),
  };
  function keyOf({ radioId, revision }: JobDocument['sheets'][number]): string {
    const place = radios.find((r) => r.id === radioId)?.placeId ?? '';
    return `${linkOf(radioId)} ${nameOf.get(place)} ${revision}`;
  }
  const numbers = new Map<string, string>();
  const text = JSON.stringify(plain).replace(/[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}/g, (id) => {
    if (!numbers.has(id)) numbers.set(id, `#${numbers.size}`);
    return numbers.get(id) ?? '';
  });
  return JSON.parse(text);
}

describe('a job as one document', () => {
  it('comes back as the same job, readings and all, once the job is gone', async () => {
    const before = await exportJob('?secrets=include');
    expect(before.alignments.reduce((sum, a) => sum + a.readings.length, 0)).toBeGreaterThan(1000);
    await server.sequelize.query('DELETE FROM job');
    const result = await bring(before);
    expect(result.body).toMatchObject({ links: before.links.length, warnings: [] });
    const after = await exportJob('?secrets=include', result.body.jobId as string);
    expect(after.alignments.map((a) => a.readings.length)).toEqual(before.alignments.map((a) => a.readings.length));
    expect(comparable(after)).toEqual(comparable(before));
    // Everything in it is new: it may lie beside what it was copied from.
    const text = JSON.stringify(after);
    for (const { id } of [before.job, ...before.places, ...before.radios, ...before.links])
      expect(text).not.toContain(id);
    await server.sequelize.query('DELETE FROM job');
    server.jobId = (await bring(light)).body.jobId as string;
    light = { ...(await exportJob('?secrets=include')) };
  });

  it('leaves passphrases out unless asked, and keeps those that are here when it replaces', async () => {
    const without = await exportJob();
    const secrets = (await exportJob('?secrets=include')).sheets.map((s) => s.sheet.passphrase);
    expect(secrets.filter(Boolean).length).toBeGreaterThan(4);
    for (const secret of secrets) if (secret) expect(JSON.stringify(without)).not.toContain(secret);
    expect((await bring(without)).status).toBe(409);
    expect((await bring(without, '?replace=yes')).body).toMatchObject({ jobId: server.jobId, warnings: [] });
    expect((await exportJob('?secrets=include')).sheets.map((s) => s.sheet.passphrase)).toEqual(secrets);
  });

  it('lies beside the job as a copy where that is wanted, and a job goes by its name', async () => {
    const copy = (await bring(await exportJob(), '?copy=yes')).body as { jobId: string; warnings: string[] };
    expect(copy.jobId).not.toBe(server.jobId);
    expect(copy.warnings[0]).toContain('no passphrase');
    const { crew, job } = await exportJob('', copy.jobId);
    expect(crew).toHaveLength(light.crew.length);
    expect(job.name).toBe(`${light.job.name} 2`); // told apart in the list
    const remove = (name: string) => server.delete(`/api/jobs/${copy.jobId}?name=${encodeURIComponent(name)}`);
    expect((await remove(job.name)).status).toBe(403); // nobody has said who works on it
    await server.lead(copy.jobId);
    expect((await remove('Something else')).status).toBe(422);
    expect((await remove(job.name)).body).toEqual({ removed: true });
    expect((await server.get(`/api/jobs/${copy.jobId}`)).status).toBe(404);
    expect(comparable(await exportJob('?secrets=include'))).toEqual(comparable(light));
  });

  it('comes to another computer once, is told by its name, and keeps there what was typed when it comes again', async () => {
    const file = await server.get(`/api/jobs/${server.jobId}/export`);
    expect(file.headers['content-disposition']).toBe('attachment; filename=Tessary-harbour.json');
    const id = '8c5f2a10-6f1d-4b7e-9a55-0d1e2f3a4b5c';
    const away = JSON.parse(JSON.stringify(file.body).replaceAll(server.jobId, id)) as JobDocument;
    const first = (await bring(away)).body as { jobId: string };
    const again = await bring(away);
    expect(again.status).toBe(409);
    expect(again.body.detail).toContain('is here already, from this file.');
    expect((await server.get('/api/jobs')).body).toHaveLength(2);
    // The passphrases are not in this copy: that is no fault of the pair, and nothing that was proven is undone.
    const bench = async () => {
      const { links } = (await server.get(`/api/jobs/${first.jobId}/links?limit=50`)).body as JobLinks;
      return links.find((l) => l.name === 'Ice works')?.state.steps.find((s) => s.step === 'bench');
    };
    expect(await bench()).toMatchObject({ state: 'thin', because: 'paired; the passphrases are not in this copy' });
    // Brought in with them, the same job stays the same: its radios have their passphrases from then on.
    const secrets = new Map(withSecrets.sheets.map((s) => [s.sheet.deviceName, s.sheet.passphrase]));
    const whole = {
      ...away,
      sheets: away.sheets.map((s) => ({
        ...s,
        sheet: { ...s.sheet, passphrase: secrets.get(s.sheet.deviceName) ?? null },
      })),
    };
    expect((await bring(whole, '?replace=yes')).body).toMatchObject({ jobId: first.jobId, warnings: [] });
    expect(await bench()).toMatchObject({ state: 'holds' });
    expect((await bring(away, '?replace=yes')).body).toMatchObject({ jobId: first.jobId, warnings: [] });
    expect(await bench()).toMatchObject({ state: 'holds' });
    await JobRow.destroy({ where: { id: first.jobId } });
  });

  it('says which terrain stays behind, and no path gets better by that', async () => {
    const away = await exportJob();
    expect(away.terrain?.map(({ name }) => name)).toEqual([expect.stringMatching(/tif$/)]);
    const elsewhere = { ...away, terrain: [{ name: 'hills of the north.tif', sha256: 'a'.repeat(64) }] };
    const { jobId, warnings } = (await bring(elsewhere, '?copy=yes')).body as { jobId: string; warnings: string[] };
    expect(warnings.join()).toContain('bring hills of the north.tif in on the map');
    const path = async () => {
      const { links } = (await server.get(`/api/jobs/${jobId}/links?limit=50`)).body as JobLinks;
      return links.find((l) => l.name === 'Beacon shed')?.state.steps.find((s) => s.step === 'path');
    };
    // Here its ground is known from another file; there it is not.
    expect((await path())?.state).toBe('thin');
    await PlaceRow.update({ latitudeDeg: 34 }, { where: { jobId, name: 'Ferry office' } });
    await PlaceRow.update({ latitudeDeg: 34.01 }, { where: { jobId, name: 'Beacon shed' } });
    await server.sequelize.query('UPDATE place SET version = version + 1');
    expect(await path()).toMatchObject({
      state: 'open',
      because: 'the terrain is not in this copy: bring hills of the north.tif in on the map',
    });
    await JobRow.destroy({ where: { id: jobId } });
  });

  it('ends what was running when it was written, and what runs in the job that it replaces', async () => {
    const aim = { nearSource: 'phone', farSource: 'phone', order: 'endByEnd' };
    await server.put('/api/session', { crewMemberId: light.crew[0]?.id });
    const link = light.links.find((l) => l.name === 'Net loft')?.id ?? '';
    const { id } = (await server.post(`/api/links/${link}/alignments`, aim)).body as { id: string };
    const document = await exportJob();
    const result = await bring(document, '?replace=yes');
    expect(result.status).toBe(200);
    expect((await server.get(`/api/alignments/${id}`)).body).toMatchObject({ state: 'abandoned' });
    expect((await server.post(`/api/links/${link}/alignments`, aim)).status).toBe(200);
    expect((await bring(light, '?replace=yes')).status).toBe(200);
    expect((await server.get('/api/health')).body).toMatchObject({ ready: true, trouble: null });
  });
});

/** The document with one thing changed in one row of a list. */
const spoilt = (list: keyof JobDocument, change: object): object => {
  const rows = light[list] as unknown as object[];
  return { ...light, [list]: rows.map((row, i) => (i ? row : { ...row, ...change })) };
};
const elsewhere = '3f0a2c1e-5b7d-4e8f-9a6b-1c2d3e4f5a6b';

describe('a document that is none', () => {
  let folder = '';
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'kivram-test-'));
  });
  afterAll(() => rm(folder, { recursive: true }));

  it.each<[string, () => object, string]>([
    ['another format', () => ({ ...light, format: 'else' }), 'no Kivram job'],
    ['a later version', () => ({ ...light, formatVersion: 9 }), 'format version is 9'],
    ['a field it does not know', () => ({ ...light, extra: 1 }), 'extra is not known'],
    ['a radio on an air that is not in it', () => ({ ...light, airs: [] }), 'is not among the airs'],
    ["another job's radio in a sheet", () => spoilt('sheets', { radioId: elsewhere }), 'is not among the radios'],
    ["an event at another job's link", () => spoilt('events', { linkId: elsewhere }), 'is not among the links'],
    ['somebody from elsewhere', () => spoilt('benchRuns', { crewMemberId: elsewhere }), 'is not among the crew'],
    ['a spec sheet without steps', () => spoilt('models', { spec: { id: 'x' } }), 'models.0.spec'],
    ['a verdict that is no verdict', () => spoilt('tests', { verdict: { state: 'great' } }), 'verdict'],
    ['a result that is no result', () => spoilt('alignments', { result: { near: 1 } }), 'result'],
    ['a basis with a word for a number', () => spoilt('tests', { basis: { near: { latitudeDeg: 'x' } } }), 'basis'],
    ['a reading that is none', () => spoilt('alignments', { readings: [{ at: 'now' }] }), 'readings'],
    ['a reading of other radios', () => spoilt('alignments', { readings: [foreign()] }), 'other radios'],
    ['a reading of another year', () => spoilt('alignments', { readings: [late()] }), 'not within its alignment'],
    [
      'an alignment in the future',
      () => spoilt('alignments', { startedAt: '2090-01-01', finishedAt: '2090-01-02' }),
      'future',
    ],
    ['nothing in a list', () => ({ ...light, links: [null] }), 'must hold objects only'],
    ['a link between one radio', () => spoilt('links', { farRadioId: light.links[0]?.nearRadioId }), 'refuses this'],
  ])('%s is refused with what is wrong, and changes nothing', async (_, document, words) => {
    const path = join(folder, 'job.json');
    await writeFile(path, JSON.stringify(document()));
    const refused = await importJob(server.sequelize, path, 'replace').catch((error: unknown) => problemOf(error));
    expect(refused).toMatchObject({ status: 422 });
    expect((refused as Problem).detail).toContain(words);
    expect(comparable(await exportJob('?secrets=include'))).toEqual(comparable(light));
  });

  const foreign = () => ({ ...light.alignments[0]?.readings[0], radioId: elsewhere });
  const late = () => ({ ...light.alignments[0]?.readings[0], at: '2031-01-01T00:00:00Z' });

  it('is read or refused in words, however it is damaged, and what is here stays whole', async () => {
    const whole = JSON.stringify({
      ...light,
      alignments: light.alignments.slice(0, 2),
      events: light.events.slice(0, 5),
    });
    const path = join(folder, 'job.json');
    let refused = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(whole.length - 1), fc.constantFrom('0', '"', '{', ']', '-', '', 'null', '1e999')), {
          minLength: 1,
          maxLength: 3,
        }),
        async (edits) => {
          const text = edits.reduce((now, [at, put]) => now.slice(0, at) + put + now.slice(at + 1), whole);
          await writeFile(path, text);
          const problem = await importJob(server.sequelize, path, 'copy').then(
            () => null,
            (error: unknown) => problemOf(error),
          );
          if (!problem) return;
          refused++;
          expect(problem.status).toBeLessThan(500);
          expect(problem.detail.length).toBeGreaterThan(10);
        },
      ),
      { numRuns: 40 },
    );
    expect(refused).toBeGreaterThan(5);
    const torn = await server.sequelize.query<{ n: number }>(
      `SELECT count(l.id)::integer AS n FROM job j LEFT JOIN link l ON l.job_id = j.id GROUP BY j.id HAVING count(l.id) <> ${light.links.length}`,
      { type: QueryTypes.SELECT },
    );
    expect(torn).toEqual([]);
  });

  it('leaves no passphrase in the log of the database when it is refused there', async () => {
    const secret = 'left-in-no-log-4711';
    const sheets = light.sheets.map((s) => ({ ...s, sheet: { ...s.sheet, passphrase: secret } }));
    const doubled = { ...light, sheets: [...sheets, ...sheets] };
    const answer = await bring(doubled, '?replace=yes');
    expect(answer.status).toBe(409);
    const [folder] = await server.sequelize.query<{ folder: string }>(
      `SELECT current_setting('data_directory') AS folder`,
      { type: QueryTypes.SELECT },
    );
    const dataFolder = folder?.folder ?? '';
    const logs = (await readdir(dataFolder)).filter((name) => name.endsWith('.log'));
    expect(logs).toContain('server.log');
    for (const log of logs) expect(await readFile(`${dataFolder}/${log}`, 'utf8')).not.toContain(secret);
  });

  it('keeps its spec sheets apart from the catalogue, where they differ', async () => {
    const models = light.models.map((m) => ({ ...m, spec: { ...m.spec, antennaGainDbi: 1 } }));
    const copy = (await bring({ ...light, models }, '?copy=yes')).body as { jobId: string };
    const offered = (await server.get('/api/models')).body as { id: string; antennaGainDbi: number }[];
    expect(offered.some((m) => m.antennaGainDbi === 1)).toBe(false);
    const { models: kept } = await exportJob('', copy.jobId);
    expect(kept.every((m) => m.spec.antennaGainDbi === 1)).toBe(true);
  });
});
