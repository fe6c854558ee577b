import type { Photo, Visit } from '@kivram/contract/entities/visit';
import type { JobDocument } from '@kivram/contract/jobDocument/document';
import type { TimelineView } from '@kivram/contract/views/job';
import type { VisitsView } from '@kivram/contract/views/visit';
import { randomBytes, randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { isBareJpeg, keepPhoto, scalePhoto } from '../src/formats/photo';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

/** Width and height as a phone takes them, px. */
const asTaken: [width: number, height: number] = [3000, 2000];

/** A picture of a kind, upright only by what EXIF says, with time and place; small, where its size is not the point. */
async function picture(kind: 'jpeg' | 'png' | 'webp' = 'jpeg', [width, height] = [600, 400]): Promise<Buffer> {
  const left = {
    input: { create: { width: width / 2, height, channels: 3 as const, background: '#c02020' } },
    left: 0,
    top: 0,
  };
  const taken = sharp({ create: { width, height, channels: 3, background: '#2040c0' } })
    .composite([left])
    .withExif({
      IFD0: { Make: 'Made up' },
      IFD2: { DateTimeOriginal: '2026:05:04 09:30:00', OffsetTimeOriginal: '+02:00' },
      IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '33/1 25/1 12/1', GPSLongitudeRef: 'W', GPSLongitude: '37/1 50/1 0/1' },
    })
    .withMetadata({ orientation: 6 });
  return taken[kind]().toBuffer();
}

const list = async (): Promise<VisitsView> => (await server.get(`/api/jobs/${server.jobId}/visits`)).body as VisitsView;
const events = async (): Promise<TimelineView['events']> =>
  ((await server.get(`/api/jobs/${server.jobId}/events`)).body as TimelineView).events;
const fields = {
  startedAt: '2026-05-04T08:00:00.000Z',
  purpose: 'After the storm',
  company: 'Teo Marl',
  note: 'Mount loose',
};
const begin = async (id: string = randomUUID()): Promise<Visit> =>
  (await server.post(`/api/jobs/${server.jobId}/visits`, fields).set('idempotency-key', id)).body as Visit;
const add = (bytes: Buffer, query: Record<string, string>, id: string = randomUUID()) =>
  server
    .upload(`/api/jobs/${server.jobId}/photos?${new URLSearchParams(query).toString()}`, bytes)
    .set('idempotency-key', id);

describe('a visit', () => {
  it('is made once under its id, changed, ended, and stands on the timeline', async () => {
    const id = randomUUID();
    const first = await begin(id);
    expect(first).toMatchObject({ ...fields, id, endedAt: null, version: 0, crewMemberId: server.crewMemberId });
    expect(await begin(id)).toEqual(first);
    expect((await list()).visits.filter((visit) => visit.id === id)).toEqual([first]);
    const change = (body: object) => server.patch(`/api/visits/${id}`, body);
    const ended = await change({ version: 0, note: 'Bolts tightened', endedAt: '2026-05-04T10:00:00Z' });
    expect(ended.body).toMatchObject({ note: 'Bolts tightened', endedAt: '2026-05-04T10:00:00.000Z', version: 1 });
    expect((await change({ version: 0, note: 'Other' })).status).toBe(409);
    expect((await change({ version: 1, endedAt: '2026-05-03T10:00:00Z' })).body.detail).toContain('before it began');
    expect((await change({ version: 1, endedAt: null })).body).toMatchObject({ endedAt: null });
    expect((await change({ version: 2, purpose: '' })).body.detail).toContain('purpose');
    expect((await events()).map((event) => event.summary).slice(0, 3)).toEqual([
      expect.stringMatching(/^Changed a visit: ended at 4 May 2026, \d\d:\d\d to none$/),
      'Ended the visit: After the storm',
      'Began a visit: After the storm',
    ]);
  });
});

describe('a photo', () => {
  it.each(['jpeg', 'png', 'webp'] as const)(
    'comes as %s, is turned upright, made smaller, and carries nothing with it',
    async (kind) => {
      const visit = await begin();
      const answer = await add(await picture(kind, asTaken), { of: 'visit', id: visit.id, caption: 'The mount' });
      expect(answer.status).toBe(200);
      const photo = answer.body as Photo;
      expect(photo).toMatchObject({ visitId: visit.id, radioId: null, caption: 'The mount', latitudeDeg: null });
      for (const size of ['full', 'small'] as const) {
        const { body, headers } = await server.get(`/api/photos/${photo.id}/${size}.jpg`).buffer(true).parse(bytesOf);
        expect(headers['content-type']).toBe('image/jpeg');
        const { width = 0, height = 0, format, exif } = await sharp(body as Buffer).metadata();
        expect([format, exif]).toEqual(['jpeg', undefined]);
        expect(Math.max(width, height)).toBe(size === 'full' ? 2048 : 320);
        if (kind === 'jpeg') expect(height).toBeGreaterThan(width); // it lay on its side
      }
    },
  );

  function bytesOf(response: unknown, done: (error: Error | null, body: Buffer) => void): void {
    const chunks: Buffer[] = [];
    const stream = response as NodeJS.ReadableStream;
    stream.on('data', (chunk: Buffer) => chunks.push(chunk));
    stream.on('end', () => done(null, Buffer.concat(chunks)));
  }

  it('tells when it was taken, and where only if that is wanted', async () => {
    const { id } = await begin();
    const taken = (await add(await picture(), { of: 'visit', id, position: 'keep' })).body as Photo;
    expect(taken.takenAt).toBe('2026-05-04T07:30:00.000Z');
    expect([taken.latitudeDeg, taken.longitudeDeg]).toEqual([expect.closeTo(33.42, 6), expect.closeTo(-37.8333333, 6)]);
    const not = (await add(await picture(), { of: 'visit', id })).body as Photo;
    expect([not.latitudeDeg, not.longitudeDeg]).toEqual([null, null]);
  });

  it('is added once under its id, to what is in the job', async () => {
    const link = await server.link('Ice works');
    const id = randomUUID();
    const bytes = await picture('jpeg', [40, 30]);
    const first = await add(bytes, { of: 'radio', id: link.near.radio.id }, id);
    expect((await add(bytes, { of: 'radio', id: link.near.radio.id }, id)).body).toEqual(first.body);
    expect((await list()).photos.filter((photo) => photo.id === id)).toHaveLength(1);
    expect((await add(bytes, { of: 'place', id: link.near.radio.id })).status).toBe(404);
    expect((await add(bytes, { of: 'roof', id: link.near.radio.id })).body.detail).toContain('radio, place, visit');
    expect((await add(Buffer.alloc(0), { of: 'radio', id: link.near.radio.id })).status).toBe(422);
  });

  it.each<[string, () => Buffer | Promise<Buffer>, string]>([
    ['HEIC', () => Buffer.from('000000186674797068656963000000006d696631', 'hex'), 'most compatible'],
    ['a text', () => Buffer.from('this is no photo, whatever it is called'), 'JPEG, PNG and WebP'],
    [
      'noise that begins like a JPEG',
      () => Buffer.concat([Buffer.from('ffd8ffe0', 'hex'), randomBytes(4000)]),
      'damaged',
    ],
    ['half of one', async () => (await picture('jpeg', asTaken)).subarray(0, 9000), 'damaged'],
    [
      'a drawing that may hold scripts',
      () => Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'),
      'JPEG, PNG and WebP',
    ],
  ])('that is %s is refused in words where it was sent', async (_, bytes, words) => {
    const { id } = await begin();
    const answer = await add(await bytes(), { of: 'visit', id });
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toContain(words);
  });

  it('of a small file that claims a giant picture takes no memory', async () => {
    const [width, height] = [16_000, 9_000];
    const giant = await sharp(Buffer.alloc(width * height, 255), { raw: { width, height, channels: 1 } })
      .png()
      .toBuffer();
    expect(giant.length).toBeLessThan(2e6);
    await expect(scalePhoto(giant)).rejects.toThrow('million pixels');
  });

  it('that was scaled before is kept byte by byte, and one that hides something is drawn anew', async () => {
    const { full } = await scalePhoto(await picture('jpeg', asTaken));
    expect(isBareJpeg(full)).toBe(true);
    expect((await keepPhoto(full)).full).toEqual(full);
    const comment = Buffer.from('fffe000868696464656e', 'hex');
    for (const [what, bytes] of [
      ['behind its end', Buffer.concat([full, Buffer.from('hidden')])],
      ['in a comment', Buffer.concat([full.subarray(0, 2), comment, full.subarray(2)])],
      ['in EXIF', await picture()],
      [
        'nothing, but is large',
        await sharp({ create: { width: 3000, height: 9, channels: 3, background: '#fff' } })
          .jpeg()
          .toBuffer(),
      ],
    ] as const) {
      const kept = await keepPhoto(bytes);
      expect(Buffer.from(kept.full).equals(bytes), what).toBe(false);
      expect(isBareJpeg(kept.full), what).toBe(true);
    }
    expect(isBareJpeg(Buffer.from('ffd8ffe0', 'hex'))).toBe(false);
  });

  it('comes back with the visit, the place or the radio that it was removed with', async () => {
    const visit = await begin();
    const photo = (await add(await picture(), { of: 'visit', id: visit.id, caption: 'Kept' })).body as Photo;
    const bytes = (await server.get(`/api/photos/${photo.id}/full.jpg`).buffer(true).parse(bytesOf)).body as Buffer;
    const undo = async (): Promise<void> => {
      const removal = (await events())[0]?.detail.removalId as string;
      expect((await server.post(`/api/removals/${removal}/undo`)).body).toEqual({ back: true });
    };
    for (const path of [`/api/visits/${visit.id}?version=0`, `/api/photos/${photo.id}?version=0`]) {
      expect((await server.delete(path)).body).toEqual({ removed: true });
      expect((await list()).photos.map((p) => p.id)).not.toContain(photo.id);
      await undo();
      expect((await list()).photos.find((p) => p.id === photo.id)).toEqual(photo);
      expect((await server.get(`/api/photos/${photo.id}/full.jpg`).buffer(true).parse(bytesOf)).body).toEqual(bytes);
    }
    const link = await server.link('Ice works');
    const ofRadio = (await add(await picture(), { of: 'radio', id: link.far.radio.id })).body as Photo;
    expect((await server.get(`/api/links/${link.link.id}/removal`)).body.goes).toContain('3 photos');
    await server.delete(`/api/links/${link.link.id}?version=${link.link.version}`);
    await undo();
    expect((await list()).photos.map((p) => p.id)).toContain(ofRadio.id);
  });

  it('has a line under it that can be changed', async () => {
    const { id } = await begin();
    const photo = (await add(await picture(), { of: 'visit', id })).body as Photo;
    const write = (version: number) => server.patch(`/api/photos/${photo.id}`, { version, caption: 'Grounding lug' });
    expect((await write(0)).body).toMatchObject({ caption: 'Grounding lug', version: 1 });
    expect((await write(0)).status).toBe(409);
  });
});

describe("a job's file", () => {
  it('takes visits and photos along, drawn anew, and refuses what is no picture or of nothing', async () => {
    const job = { name: 'Small job', customer: '', country: 'XT', units: 'metric', workerName: 'Ona Brisk' };
    server.jobId = ((await server.post('/api/jobs', job)).body as { id: string }).id;
    const { id } = await begin();
    for (const caption of ['One', 'Two']) await add(await picture(), { of: 'visit', id, caption });
    const file = (await server.get(`/api/jobs/${server.jobId}/export`)).body as JobDocument;
    expect(file.photos).toHaveLength(2);
    const copy = await server.post('/api/jobs/import?copy=yes', file);
    const there = (await server.get(`/api/jobs/${copy.body.jobId as string}/visits`)).body as VisitsView;
    const words = (view: { visits: { purpose: string; note: string }[]; photos: { caption: string }[] }) => [
      view.visits.map(({ purpose, note }) => [purpose, note]).sort(),
      view.photos.map(({ caption }) => caption).sort(),
    ];
    expect(words(there)).toEqual(words(file));
    const spoil = (change: object) => ({ ...file, photos: [{ ...file.photos[0], ...change }] });
    for (const [change, said] of [
      [{ jpeg: Buffer.from('<script>').toString('base64') }, 'JPEG'],
      [{ jpeg: 'not base64!' }, 'base64'],
      [{ visitId: randomUUID() }, 'not in this file'],
      [{ visitId: null, radioId: null, placeId: null }, 'of one radio'],
      [{ surprise: 1 }, 'not known here'],
    ] as const) {
      const answer = await server.post('/api/jobs/import?copy=yes', spoil(change));
      expect(answer.status, said).toBe(422);
      expect(answer.body.detail).toContain(said);
    }
  });
});
