import type { CatalogueEntry, GearDocument, ModelsImport } from '@kivram/contract/views/gear';
import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { gear } from '../src/demo/gear';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const pane = gear.find((m) => m.id === 'brinmoor-pane-16') as (typeof gear)[number];
const fields = (changes: object = {}): object => {
  const { id, ...spec } = pane;
  return { ...spec, maker: 'Marten', name: `M ${id.length} ${randomUUID().slice(0, 6)}`, ...changes };
};
const list = async (): Promise<CatalogueEntry[]> => (await server.get('/api/catalogue')).body as CatalogueEntry[];
const add = (changes: object = {}) => server.post('/api/models', { spec: fields(changes) });

describe('the catalogue', () => {
  it('says who is planned with each spec sheet', async () => {
    const entries = await list();
    expect(entries).toHaveLength(gear.length);
    const used = entries.find(({ spec }) => spec.id === pane.id);
    expect(used).toMatchObject({ revision: 1, older: [] });
    expect(used?.radios).toBeGreaterThan(2);
  });

  it("takes a sheet of one's own, with everything it may say", async () => {
    const cut = [-180, -10, 0, 10, 180].map((angleDeg) => ({ angleDeg, lossDb: Math.abs(angleDeg) / 6 }));
    const all = {
      pattern: { azimuth: cut, elevation: cut },
      otherPortsMbps: [100],
      poeWatts: 9,
      mostStations: 5,
      pairingKind: 'button',
      factoryAddress: '192.168.1.20',
      bootS: 45,
      saveS: 120,
      weightKg: 1.2,
      price: { amount: 129, currency: 'EUR' },
    };
    const made = (await add(all)).body as CatalogueEntry;
    expect(made.spec).toMatchObject({ maker: 'Marten', ...all });
    expect(made.spec.id).toMatch(/^marten-m-16-[0-9a-f]{6}$/);
    expect((await add({ name: made.spec.name })).body.detail).toContain('in the catalogue already');
  });

  it.each<[string, object, string]>([
    ['frequencies the wrong way round', { lowestMHz: 5850, highestMHz: 5150 }, 'must be above the lowest'],
    ['a width without steps', { widthsMHz: [20, 160] }, 'No step is known at 160 MHz'],
    ['no width at all', { widthsMHz: [] }, 'channel widths must be 1 to 20 numbers'],
    ['five hundred dBm', { mostConductedDbm: 500 }, 'most power is 500'],
    ['a price in words', { price: { amount: 1, currency: 'euro' } }, 'three capital letters'],
    ['a field nobody knows', { colour: 'red' }, 'colour is not known here'],
  ])('refuses %s', async (_, changes, words) => {
    const answer = await add(changes);
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toContain(words);
  });

  it('keeps radios at the revision they were planned with', async () => {
    const before = await server.link('Ice works');
    const { id } = before.near.model;
    const entry = (await list()).find(({ spec }) => spec.id === id);
    const { id: _id, ...spec } = before.near.model;
    void _id;
    const change = (revision: number, changes: object) =>
      server.put(`/api/models/${id}`, { revision, spec: { ...spec, ...changes } });
    const changed = (await change(1, { antennaGainDbi: spec.antennaGainDbi + 1 })).body as CatalogueEntry;
    expect(changed).toMatchObject({ revision: 2, radios: entry?.radios });
    expect(changed.older).toEqual([{ jobId: server.jobId, job: 'Tessary harbour', radios: entry?.radios }]);
    expect((await server.link('Ice works')).near.model.antennaGainDbi).toBe(spec.antennaGainDbi);
    expect((await change(1, { antennaGainDbi: 3 })).status).toBe(409);
    expect(((await change(2, { antennaGainDbi: spec.antennaGainDbi + 1 })).body as CatalogueEntry).revision).toBe(2);
    expect((await server.put('/api/models/none', { revision: 1, spec })).status).toBe(404);
  });

  it('takes a sheet out without taking it from radios, and does so once', async () => {
    const { spec } = (await add()).body as CatalogueEntry;
    const key = randomUUID();
    const retire = () => server.delete(`/api/models/${spec.id}`).set('idempotency-key', key);
    expect((await retire()).body).toEqual({ removed: true });
    expect((await retire()).body).toEqual({ removed: true });
    expect((await list()).some((entry) => entry.spec.id === spec.id)).toBe(false);
    expect((await server.delete(`/api/models/${spec.id}`)).status).toBe(404);
  });
});

describe('spec sheets in a file', () => {
  const bring = (models: unknown[], changes: object = {}) =>
    server.post('/api/models/import', {
      fileName: 'gear.json',
      text: JSON.stringify({ format: 'kivram-gear', formatVersion: 1, models, ...changes }),
    });

  it('come back as they were exported', async () => {
    const exported = (await server.get('/api/models/export')).body as GearDocument;
    expect(exported).toMatchObject({ format: 'kivram-gear', formatVersion: 1 });
    const result = (await bring(exported.models)).body as ModelsImport;
    expect(result.refused).toEqual([]);
    expect(new Set(result.taken.map((t) => t.what))).toEqual(new Set(['known']));
  });

  it('are taken one by one: what is wrong keeps no other out, and is named', async () => {
    const sound = { ...pane, id: 'own-1', maker: 'Own', name: 'One' };
    const result = (
      await bring([
        { ...sound, id: 'own-0', name: 'Zero', mostConductedDbm: 'much' },
        sound,
        { ...sound, id: 'own-2', name: 'Two', widthsMHz: [20, 160] },
        7,
        { ...sound, antennaGainDbi: 15 },
      ])
    ).body as ModelsImport;
    expect(result.taken).toEqual([
      { id: 'own-1', name: 'Own One', what: 'new' },
      { id: 'own-1', name: 'Own One', what: 'revision' },
    ]);
    expect(result.refused.map((r) => r.name)).toEqual(['Own Zero', 'Own Two', 'number 4']);
    expect(result.refused[1]?.reasons[0]).toContain('No step is known at 160 MHz');
    expect((await list()).find(({ spec }) => spec.id === 'own-1')).toMatchObject({
      revision: 2,
      spec: { antennaGainDbi: 15 },
    });
  });

  it.each<[string, object, string]>([
    ['no JSON', { fileName: 'x', text: '{' }, 'is no JSON'],
    ['another JSON', { fileName: 'x', text: '{"format":"kivram-job"}' }, 'no file of spec sheets'],
    ['a later version', { fileName: 'x', text: '{"format":"kivram-gear","formatVersion":2,"models":[]}' }, 'version 2'],
    [
      'too many',
      { fileName: 'x', text: `{"format":"kivram-gear","formatVersion":1,"models":[${'1,'.repeat(1000)}1]}` },
      '1001 spec sheets',
    ],
  ])('are refused where the file is %s', async (_, file, words) => {
    const answer = await server.post('/api/models/import', file);
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toContain(words);
  });

  it('of a hub say how many stations it takes', async () => {
    const { spec } = (await server.post('/api/models', { spec: fields({ mostStations: 1 }) })).body as CatalogueEntry;
    const job = (
      await server.post('/api/jobs', { name: 'Hub', customer: '', country: 'XT', units: 'metric', workerName: 'Ada' })
    ).body as { id: string };
    const end = (name: string, latitudeDeg: number) => ({
      place: { name, latitudeDeg, longitudeDeg: -9, groundHeightM: 5 },
      modelId: spec.id,
      mountHeightM: 8,
      conductedDbm: 10,
    });
    const need = { needNearToFarMbps: 1, needFarToNearMbps: 1 };
    const answer = await server.post(`/api/jobs/${job.id}/links/list`, {
      links: [
        {
          name: 'A',
          near: end('Hub', 38),
          far: end('A', 38.01),
          airKind: 'hub',
          centreMHz: 5755,
          widthMHz: 40,
          protocol: '802.11',
          ...need,
        },
        { name: 'B', near: { sameAs: { link: 0, end: 'near' } }, far: end('B', 38.02), ...need },
      ],
    });
    expect(answer.body.detail).toContain('takes 1 station, and these would be 2');
  });
});
