import type { Problem } from '@kivram/contract/problem';
import type { LinkView } from '@kivram/contract/views/link';
import type { TerrainFile, TerrainUpload } from '@kivram/contract/views/terrain';
import type { Position } from '@kivram/core/geodesy/coordinates';
import { toMercator } from '@kivram/core/terrain/mercator';
import type { TerrainProfile } from '@kivram/core/terrain/profile';
import { randomUUID } from 'node:crypto';
import { createServer, request as httpRequest, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { TerrainFileRow } from '../src/database/models/terrainFile';
import { TerrainTileRow } from '../src/database/models/terrainTile';
import { asciiFile, hgtFile, tiffFile } from './terrainFixtures';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer({ apart: true });
});
afterAll(() => server.close());

/** Sends a file; the answer comes when it has been read. */
async function upload(
  name: string,
  bytes: Uint8Array,
  query = '',
): Promise<{ status: number; body: TerrainFile & Problem }> {
  return request(server.app)
    .post(`/api/terrain/uploads?name=${encodeURIComponent(name)}${query}`)
    .set('host', '127.0.0.1')
    .set('content-type', 'application/octet-stream')
    .send(Buffer.from(bytes));
}

const profile = async (near: Position, far: Position): Promise<TerrainProfile> =>
  (await server.post('/api/terrain/profiles', { near: bare(near), far: bare(far) })).body as TerrainProfile;
const bare = ({ latitudeDeg, longitudeDeg }: Position): Position => ({ latitudeDeg, longitudeDeg });

// A sea where the demo has no land: 39 west, UTM zone 24 north.
const elsewhere = { west: 500_000, north: 3_700_000 };
const near = { latitudeDeg: 33.4355, longitudeDeg: -38.9955 };
const far = { latitudeDeg: 33.4275, longitudeDeg: -38.9865 };

describe("the demo's terrain", () => {
  it('went through the importer', async () => {
    const files = (await server.get('/api/terrain')).body as TerrainFile[];
    expect(files).toHaveLength(1);
    expect(files[0]).toMatchObject({
      name: 'tessary.tif',
      projection: 'WGS84 UTM zone 24 north',
      cellM: 12,
      voidShare: 0,
    });
    expect(files[0]?.outline).toHaveLength(4);
    expect(files[0]?.mostM).toBeGreaterThan(150);
  });

  it("lies under the links: the ridge takes a part of the beacon's zone, the ledger has what it costs", async () => {
    const view = await server.link('Beacon shed');
    expect(view.terrain?.profile.groundM.length).toBeGreaterThan(400);
    expect(view.state.steps[0]).toMatchObject({ step: 'path', state: 'thin' });
    expect(view.state.steps[0]?.because).toMatch(/^the ridge takes 4\d % of the zone/);
    const shaft = await server.link('Cliff hoist');
    expect(shaft.terrain).toBeNull();
    expect(shaft.state.steps[0]?.because).toContain('over the ride');
  });
});

describe('an upload', () => {
  it('tells what it has become', async () => {
    const bytes = tiffFile((c, r) => 20 + c / 10 + r / 20, { ...elsewhere, columns: 200, rows: 600, cell: 10 });
    const { status, body } = await upload('coast.tif', bytes);
    expect(status).toBe(200);
    expect(body).toMatchObject({ name: 'coast.tif', columns: 200, rows: 600, leastM: 20, cellM: 10 });
    expect(await TerrainTileRow.count({ where: { fileId: body.id } })).toBe(3);
    const { groundM } = await profile(near, far);
    expect(groundM.every((h) => h !== null && h > 20 && h < 70)).toBe(true);
  });

  it('that is finer wins where both lie, and its voids are filled from the coarser', async () => {
    const middle = { west: 500_450, north: 3_699_700 };
    const fine = tiffFile((c) => (c < 40 ? 300 : -9999), { ...middle, columns: 80, rows: 60, cell: 5 });
    expect((await upload('fine.tif', fine)).status).toBe(200);
    const files = (await server.get('/api/terrain')).body as TerrainFile[];
    expect(files.map((f) => f.name)).toEqual(['fine.tif', 'coast.tif', 'tessary.tif']);
    expect(files[0]?.voidShare).toBeCloseTo(0.5, 6);
    const { groundM } = await profile(near, far);
    expect(groundM).toContain(300);
    expect(groundM.some((h) => h !== null && h < 70)).toBe(true);
    expect(groundM).not.toContain(null);
  });

  it('of the very same file is refused by its name there', async () => {
    const bytes = tiffFile(() => 5, { west: 520_000, north: 3_600_000 });
    await upload('first.tif', bytes);
    expect(await upload('again.tif', bytes)).toMatchObject({
      status: 422,
      body: { detail: 'This very file has been imported already, as first.tif.' },
    });
  });

  it.each([
    ['feet.tif', tiffFile(() => 12_000), 'Row 1, column 1 of feet.tif is 12000 m high'],
    ['void.tif', tiffFile(() => -9999), 'nothing but voids'],
    ['holiday.jpg', Buffer.from('not terrain at all'), 'is no terrain file that Kivram reads'],
    ['empty.tif', new Uint8Array(0), 'The file is empty'],
    [
      'cut.asc',
      asciiFile({ xllcorner: 0, yllcorner: 0, cellsize: 0.01 }, 6, 5, () => 10).subarray(0, 140),
      'cut short',
    ],
    [
      'wide.asc',
      asciiFile({ xllcorner: 0, yllcorner: 0, cellsize: 1 }, 6, 5, () => 10),
      ' m wide; Kivram takes 0.1 m to 5 km',
    ],
  ])('%s leaves nothing behind and says why', async (name, bytes, words) => {
    const before = await TerrainFileRow.count();
    const { status, body } = await upload(name, bytes);
    expect(status).toBe(422);
    expect(body.detail).toContain(words);
    expect(await TerrainFileRow.count()).toBe(before);
  });

  it('takes the projection that is said, and refuses one that is none', async () => {
    const bytes = asciiFile({ xllcorner: 700_000, yllcorner: 3_690_000, cellsize: 20 }, 30, 30, () => 7);
    expect((await upload('utm.asc', bytes)).status).toBe(422);
    expect((await upload('utm.asc', bytes, '&epsg=32624')).status).toBe(200);
    expect((await server.post('/api/terrain/uploads?name=x&epsg=here')).status).toBe(422);
  });

  it('that is given up keeps nothing', async () => {
    const http: Server = createServer(server.app);
    await new Promise<void>((resolve) => http.listen(0, '127.0.0.1', resolve));
    const before = await TerrainFileRow.count();
    const bytes = Buffer.from(hgtFile((c, r) => (c % 90) + (r % 70), 3601));
    const uploadId = randomUUID();
    const sending = httpRequest({
      port: (http.address() as AddressInfo).port,
      host: '127.0.0.1',
      method: 'POST',
      path: `/api/terrain/uploads?name=N33W045.hgt&upload=${uploadId}`,
      headers: { 'content-type': 'application/octet-stream', 'content-length': bytes.length },
    });
    sending.on('error', () => undefined);
    sending.end(bytes);
    const share = async (): Promise<number> =>
      ((await server.get(`/api/terrain/uploads/${uploadId}`)).body as TerrainUpload).share;
    await vi.waitFor(async () => expect(await share()).toBeGreaterThan(0), { interval: 20 });
    sending.destroy();
    await vi.waitFor(async () => expect(await share()).toBe(0));
    await vi.waitFor(async () => expect(await TerrainFileRow.count()).toBe(before));
    http.close();
  });

  it('can be taken out again; then nothing is known there', async () => {
    const files = (await server.get('/api/terrain')).body as TerrainFile[];
    for (const file of files.filter((f) => ['coast.tif', 'fine.tif'].includes(f.name))) {
      expect((await server.delete(`/api/terrain/${file.id}`)).body).toEqual({ removed: true });
      expect(await TerrainTileRow.count({ where: { fileId: file.id } })).toBe(0);
      expect((await server.delete(`/api/terrain/${file.id}`)).status).toBe(404);
    }
    expect((await profile(near, far)).groundM.every((h) => h === null)).toBe(true);
  });
});

describe('a map window', () => {
  it('is what single positions say, in 32-bit floats, NaN beyond the terrain', async () => {
    const view = (await server.link('Ice works')) as LinkView;
    const centre = toMercator(view.near.place);
    const cell = 25;
    const query = `west=${centre.x - 20 * cell}&north=${centre.y + 20 * cell}&cell=${cell}&columns=41&rows=41`;
    const answer = await server
      .get(`/api/terrain/window?${query}`)
      .buffer(true)
      .parse((response, done) => {
        const chunks: Buffer[] = [];
        response.on('data', (chunk: Buffer) => chunks.push(chunk));
        response.on('end', () => done(null, Buffer.concat(chunks)));
      });
    const heights = new Float32Array(new Uint8Array(answer.body as Buffer).buffer);
    expect(heights).toHaveLength(41 * 41);
    const [here] = (await profile(view.near.place, view.far.place)).groundM;
    expect(heights[20 * 41 + 20]).toBeCloseTo(here ?? NaN, 1);
    expect(heights.some((h) => h > 5)).toBe(true);
  });

  it.each([
    ['west=a&north=0&cell=1&columns=2&rows=2', 'west is "a"'],
    ['west=0&north=0&cell=1&columns=9000&rows=9000', 'ask for fewer'],
    ['west=0&north=0&cell=1&columns=1.5&rows=2', 'not possible'],
  ])('%s is refused: %s', async (query, words) => {
    const answer = await server.get(`/api/terrain/window?${query}`);
    expect(answer.status).toBe(400);
    expect(answer.body.detail).toContain(words);
  });
});

describe('settings of the server', () => {
  it('name no tile server by default', async () => {
    expect((await server.get('/api/settings')).body).toEqual({ tileUrl: null, opening: null });
    expect((await server.get('/api/settings')).headers['content-security-policy']).toContain(
      "img-src 'self' data: blob:;",
    );
  });
});
