import type { JobDocument } from '@kivram/contract/jobDocument/document';
import type { AlignmentView } from '@kivram/contract/views/alignment';
import type { TimelineView } from '@kivram/contract/views/job';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { roomOf } from '../src/services/jobRoom';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  await server.sequelize.query('DELETE FROM photo; DELETE FROM reading');
  await server.lead();
});
afterAll(() => server.close());
afterEach(async () => {
  roomOf(server.sequelize).limitTo({});
  await roomOf(server.sequelize).count(server.jobId);
});

const note = (text: string) =>
  server.post(`/api/jobs/${server.jobId}/visits`, {
    startedAt: '2026-05-04T08:00:00Z',
    purpose: text,
    company: '',
    note: '',
  });
const exported = async (jobId: string): Promise<JobDocument> =>
  (await server.get(`/api/jobs/${jobId}/export`)).body as JobDocument;

/** An hour of iperf3 with one stream and an interval a second, as iperf3 3.12 writes it. */
function hour(changes: object = {}): string {
  const interval = (i: number) => {
    const sum = { start: i, end: i + 1, seconds: 1, bytes: 1e7, bits_per_second: 8e7, retransmits: 0, omitted: false };
    return {
      streams: [{ socket: 5, snd_cwnd: 1, snd_wnd: 1, rtt: 1, rttvar: 1, pmtu: 1500, ...sum, sender: true }],
      sum,
    };
  };
  return JSON.stringify({
    start: { timestamp: { timesecs: 1_790_000_000 }, test_start: { protocol: 'TCP', duration: 3600, reverse: 0 } },
    intervals: Array.from({ length: 3600 }, (_, i) => interval(i)),
    end: { sum_sent: { retransmits: 0 }, sum_received: { bits_per_second: 8e7, seconds: 3600 } },
    ...changes,
  });
}

describe('what a job has taken in', () => {
  it('comes back, the file of a test as it was', async () => {
    const linkId = await server.linkId('Ice works');
    for (const title of ['one', 'two']) {
      const body = { fileName: `${title}.json`, clientAt: 'near', text: hour({ title }) };
      expect((await server.post(`/api/links/${linkId}/throughput-tests/iperf3`, body)).status).toBe(200);
    }
    const document = await exported(server.jobId);
    const brought = await server.post('/api/jobs/import?copy=yes', document);
    expect(brought.status, brought.text).toBe(200);
    const { jobId } = brought.body as { jobId: string };
    const raws = (job: JobDocument): string[] => job.tests.map(({ raw }) => JSON.stringify(raw)).sort();
    const again = raws(await exported(jobId));
    expect(again).toEqual(raws(document));
    expect(again.filter((raw) => raw.length > 500_000)).toHaveLength(2);
    await server.sequelize.query('DELETE FROM throughput_test');
  });

  it.each([
    ['__proto__', 'what iperf3 does not write: "__proto__"'],
    ['constructor', 'what iperf3 does not write: "constructor"'],
  ])('is nothing that could not come back: a file with %s in it', async (key, words) => {
    const text = hour().replace('{"start"', `{"${key}":{"a":1},"start"`);
    const body = { fileName: 'odd.json', clientAt: 'near', text };
    const answer = await server.post(`/api/links/${await server.linkId('Ice works')}/throughput-tests/iperf3`, body);
    expect(answer.body.detail).toContain(words);
  });
});

describe('a job that is full', () => {
  const room = () => roomOf(server.sequelize);

  it.each([
    ['visits', { lists: { visits: 3 } }, 'visits'],
    ['lines of timeline', { lists: { 'lines of timeline': 30 } }, 'lines of timeline'],
    ['values', { values: 2000 }, 'values'],
    ['characters', { characters: 10_000 }, 'characters'],
  ])('of %s takes no more in, says so, and goes out and comes back', async (_, limits, words) => {
    room().limitTo(limits);
    for (let i = 0; i < 3; i++) await note(`Visit ${i}`);
    await room().count(server.jobId);
    const refused = await note('One too many');
    expect(refused.body).toMatchObject({
      status: 409,
      title: 'The job is full',
      detail: expect.stringContaining(words),
    });
    const document = await exported(server.jobId);
    expect((await server.post('/api/jobs/import?copy=yes', document)).status).toBe(200);
    // What takes something away goes on.
    const [visit] = document.visits;
    const removed = await server.delete(`/api/visits/${visit?.id}?version=${visit?.version}`);
    expect(removed.status, removed.text).toBe(200);
  });

  it('ends what is aimed in it, since readings come without a change', async () => {
    const aim = { nearSource: 'none', farSource: 'none', order: 'endByEnd' };
    const linkId = await server.linkId('Hatchery');
    const { id } = (await server.post(`/api/links/${linkId}/alignments`, aim)).body as { id: string };
    await vi.waitFor(async () =>
      expect(((await server.get(`/api/alignments/${id}`)).body as AlignmentView).samples.length).toBeGreaterThan(9),
    );
    room().limitTo({ readings: 10 });
    await room().count(server.jobId);
    await vi.waitFor(async () =>
      expect((await server.get(`/api/alignments/${id}`)).body).toMatchObject({ state: 'abandoned' }),
    );
    const { events } = (await server.get(`/api/links/${linkId}/events`)).body as TimelineView;
    expect(events[0]?.summary).toContain('The job holds all that its file can carry');
  });

  it('has room again once something was removed', async () => {
    room().limitTo({ lists: { visits: 3 } });
    for (let i = 0; i < 3; i++) await note(`Visit ${i}`);
    await room().count(server.jobId);
    expect((await note('One too many')).status).toBe(409);
    for (const { id, version } of (await exported(server.jobId)).visits)
      await server.delete(`/api/visits/${id}?version=${version}`);
    await vi.waitFor(async () => expect((await note('There is room')).status).toBe(200));
  });

  it('is measured by what its file holds: no value less, and not three times as many', async () => {
    const document = await exported(server.jobId);
    const count = (value: unknown): number =>
      1 + (typeof value === 'object' && value ? Object.values(value).reduce<number>((so, v) => so + count(v), 0) : 0);
    const held = count({
      ...document,
      models: [],
      levelProfiles: [],
      tests: document.tests.map((t) => ({ ...t, raw: null })),
    });
    const refusedAt = async (values: number): Promise<boolean> => {
      room().limitTo({ values });
      await room().count(server.jobId);
      const { status } = await note('As a trial');
      return status === 409;
    };
    expect(await refusedAt(held / 0.9)).toBe(true);
    expect(await refusedAt((3 * held) / 0.9)).toBe(false);
  });
});
