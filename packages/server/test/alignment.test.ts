import type { AlignmentView } from '@kivram/contract';
import { get } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from './server';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const begin = async (linkId: string, nearSource = 'phone', farSource = 'none'): Promise<string> =>
  (
    await server.post(`/api/links/${linkId}/alignments`, {
      nearSource,
      farSource,
      order: 'endByEnd',
      crewMemberId: server.crewMemberId,
    })
  ).body.id;
const view = async (id: string): Promise<AlignmentView> => (await server.get(`/api/alignments/${id}`)).body;

describe('an alignment', () => {
  it('reads both ends ten times a second, takes marks and turns, and ends with a verdict', async () => {
    const linkId = await server.linkId('Hatchery');
    const id = await begin(linkId);
    expect(
      (
        await server.post(`/api/links/${linkId}/alignments`, {
          nearSource: 'none',
          farSource: 'none',
          order: 'endByEnd',
          crewMemberId: server.crewMemberId,
        })
      ).body.detail,
    ).toContain('being aimed right now');
    const before = (await server.get(`/api/standin/links/${linkId}/hands`)).body;
    const after = (await server.post(`/api/standin/links/${linkId}/turns`, { end: 'near', axis: 'azimuth', byDeg: 2 }))
      .body;
    expect(after.near.azimuthDeg - before.near.azimuthDeg).toBeCloseTo(2, 9);
    expect((await server.post(`/api/alignments/${id}/marks`, { kind: 'turning', direction: 1 })).status).toBe(200);
    expect((await server.post(`/api/alignments/${id}/marks`, { kind: 'turning' })).status).toBe(422);
    await pause(1500);
    const running = await view(id);
    expect(running.samples.length).toBeGreaterThan(16);
    expect(running.samples.length).toBeLessThan(44);
    // A phone is at the near end only, and nowhere does the true angle leak.
    expect(running.samples.every((s) => (s.end === 'near') === (s.phoneAzimuthDeg !== null))).toBe(true);
    expect(running.marks).toMatchObject([{ kind: 'turning', direction: 1 }]);

    const finished = await server.post(`/api/alignments/${id}/finish`, { crewMemberId: server.crewMemberId });
    expect(finished.body.result.near.expectedDbm).toBeLessThan(-40);
    expect(finished.body.result.near.shortDb).toBeGreaterThan(3);
    expect((await server.post(`/api/alignments/${id}/marks`, { kind: 'locked' })).status).toBe(409);
  });

  it('is streamed to a viewer, and goes on after the server was killed, with all that was seen', async () => {
    const id = await begin(await server.linkId('Ice works'));
    const listening = server.app.listen(0, '127.0.0.1');
    await new Promise((resolve) => listening.once('listening', resolve));
    const seen: number[] = [];
    await new Promise<void>((resolve) => {
      const stream = get(
        { port: (listening.address() as AddressInfo).port, host: '127.0.0.1', path: `/api/alignments/${id}/stream` },
        (response) => {
          expect(response.headers['content-type']).toContain('text/event-stream');
          response.on('data', (chunk: Buffer) => {
            for (const [, json] of chunk.toString().matchAll(/data: (.*)\n/g)) {
              const event = JSON.parse(json ?? '') as { type: string; readings: { tS: number }[] };
              if (event.type === 'reading') seen.push(event.readings[0]?.tS ?? 0);
            }
            if (seen.length >= 8) {
              stream.destroy();
              resolve();
            }
          });
        },
      );
    });
    listening.closeAllConnections();
    listening.close();

    // The process goes away without a word: only what is in the database remains.
    server.sessions.stop();
    const again = await startTestServer({ fresh: false });
    const stored = ((await again.get(`/api/alignments/${id}`)).body as AlignmentView).samples.map((s) => s.tS);
    for (const tS of seen) expect(stored).toContain(tS);
    await again.sessions.resume();
    await pause(500);
    expect(((await again.get(`/api/alignments/${id}`)).body as AlignmentView).samples.length).toBeGreaterThan(
      stored.length,
    );
    expect((await again.post(`/api/alignments/${id}/abandon`, { crewMemberId: again.crewMemberId })).body.state).toBe(
      'abandoned',
    );
    await again.close();
  });
});
