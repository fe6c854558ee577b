import type { AlignmentView } from '@kivram/contract/views/alignment';
import type { TimelineView } from '@kivram/contract/views/job';
import { randomUUID } from 'node:crypto';
import { get } from 'node:http';
import type { AddressInfo } from 'node:net';
import { QueryTypes, Sequelize } from 'sequelize';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { AlignmentRow } from '../src/database/models/alignment';
import { StandinWorlds } from '../src/radio/standinWorlds';
import { Leases } from '../src/services/leases';
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
    })
  ).body.id;
const view = async (id: string): Promise<AlignmentView> => (await server.get(`/api/alignments/${id}`)).body;

describe('an alignment', () => {
  it('reads both ends ten times a second, takes marks and turns, and ends with a verdict', async () => {
    const linkId = await server.linkId('Hatchery');
    const beganMs = performance.now();
    const id = await begin(linkId);
    expect(
      (
        await server.post(`/api/links/${linkId}/alignments`, {
          nearSource: 'none',
          farSource: 'none',
          order: 'endByEnd',
        })
      ).body.detail,
    ).toContain('being aimed right now');
    const before = (await server.get(`/api/standin/links/${linkId}/hands`)).body;
    const after = (await server.post(`/api/standin/links/${linkId}/turns`, { end: 'near', axis: 'azimuth', byDeg: 2 }))
      .body;
    expect(after.near.azimuthDeg - before.near.azimuthDeg).toBeCloseTo(2, 9);
    const tap = { id: randomUUID(), end: 'near', kind: 'turning', direction: 1 };
    expect((await server.post(`/api/alignments/${id}/marks`, tap)).status).toBe(200);
    // Sent again, as over a network that lost the answer, it is the same tap.
    expect((await server.post(`/api/alignments/${id}/marks`, tap)).status).toBe(200);
    expect((await server.post(`/api/alignments/${id}/marks`, { ...tap, direction: undefined })).status).toBe(422);
    await vi.waitFor(async () => expect((await view(id)).samples.length).toBeGreaterThan(16));
    const running = await view(id);
    const mostAtEach = ((performance.now() - beganMs) / 1000) * 10 + 1;
    expect(running.samples.length).toBeLessThanOrEqual(2 * mostAtEach);
    // A phone is at the near end only, and nowhere does the true angle leak.
    expect(running.samples.every((s) => (s.end === 'near') === (s.phoneAzimuthDeg !== null))).toBe(true);
    expect(running.marks).toHaveLength(1);
    expect(running.marks).toMatchObject([{ kind: 'turning', direction: 1 }]);

    const away = { id: randomUUID(), end: 'near', kind: 'otherEnd' };
    expect((await server.post(`/api/alignments/${id}/marks`, away)).status).toBe(200);
    expect((await view(id)).marks.map((m) => m.kind)).toEqual(['turning', 'otherEnd']);
    // A level that was read while the mount turned does not stand: the end waits for one that came after it.
    const restS = Math.max(...(await view(id)).marks.map((m) => m.tS));
    const rests = (of: typeof running.samples): boolean => of.some((s) => s.end === 'near' && s.tS > restS);
    await vi.waitFor(async () => expect(rests((await view(id)).samples)).toBe(true));
    const finished = await server.post(`/api/alignments/${id}/finish`);
    expect(finished.body.result.near.expectedDbm).toBeLessThan(-40);
    expect(finished.body.result.near.shortDb).toBeGreaterThan(3);
    // Nobody swept anything: there is a level and nothing else.
    expect(finished.body.result.near.diagnosis).toBe('unswept');
    const aim = (await server.link('Hatchery')).state;
    expect(aim.steps.find((s) => s.step === 'aim')).toMatchObject({ state: 'open' });
    expect(aim.next).toMatchObject({ step: 'aim', task: 'Sweep it' });
    expect(
      (await server.post(`/api/alignments/${id}/marks`, { id: randomUUID(), end: 'near', kind: 'locked' })).status,
    ).toBe(409);
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
    await server.alignments.stop();
    const again = await startTestServer({ over: server.databaseUrl });
    const stored = ((await again.get(`/api/alignments/${id}`)).body as AlignmentView).samples.map((s) => s.tS);
    for (const tS of seen) expect(stored).toContain(tS);
    await vi.waitFor(async () =>
      expect(((await again.get(`/api/alignments/${id}`)).body as AlignmentView).samples.length).toBeGreaterThan(
        stored.length,
      ),
    );
    expect((await again.post(`/api/alignments/${id}/abandon`)).body.state).toBe('abandoned');
    await again.close();
  });

  it('is shown in the order in which it is kept: no tap after a reading that was taken later', async () => {
    const again = await startTestServer();
    const id = (
      await again.post(`/api/links/${await again.linkId('Hatchery')}/alignments`, {
        nearSource: 'phone',
        farSource: 'none',
        order: 'endByEnd',
      })
    ).body.id as string;
    const shown: { type: string; tS: number }[] = [];
    await again.alignments.watch(id, {
      leave: () => undefined,
      show: (event) => {
        if (event.type === 'mark') shown.push({ type: 'mark', tS: event.mark.tS });
        else if (event.type === 'reading') shown.push({ type: 'reading', tS: event.readings[0]?.tS ?? NaN });
      },
    });
    const taps = [];
    for (let i = 0; i < 150; i++) {
      taps.push(again.post(`/api/alignments/${id}/marks`, { id: randomUUID(), end: 'near', kind: 'locked' }).then());
      await pause(10);
    }
    await Promise.all(taps);
    await again.post(`/api/alignments/${id}/abandon`);
    expect(shown.filter((s) => s.type === 'mark')).toHaveLength(150);
    expect(shown.filter((s) => s.type === 'reading').length).toBeGreaterThan(8);
    const late = shown.filter(
      (s, i) => s.type === 'mark' && shown.slice(0, i).some((r) => r.type === 'reading' && r.tS > s.tS),
    );
    expect(late).toEqual([]);
    const early = shown.filter(
      (s, i) => s.type === 'reading' && shown.slice(0, i).some((m) => m.type === 'mark' && m.tS > s.tS),
    );
    expect(early).toEqual([]);
    await again.close();
  });

  it('shows nothing to whoever has left, though a reading was being stored when it ended', async () => {
    const again = await startTestServer();
    const id = (
      await again.post(`/api/links/${await again.linkId('Hatchery')}/alignments`, {
        nearSource: 'phone',
        farSource: 'none',
        order: 'endByEnd',
      })
    ).body.id as string;
    const heard: string[] = [];
    await again.alignments.watch(id, {
      show: ({ type }) => void heard.push(type),
      leave: () => void heard.push('left'),
    });
    await vi.waitFor(() => expect(heard).toContain('reading'));
    const holding = await again.sequelize.transaction();
    await again.sequelize.query('LOCK TABLE reading IN EXCLUSIVE MODE', { transaction: holding });
    // The next reading waits for the table, and is stored once the alignment has ended.
    const waits = `SELECT count(*)::integer AS n FROM pg_locks WHERE NOT granted AND relation = 'reading'::regclass`;
    await vi.waitFor(async () => expect((await again.sequelize.query(waits))[0]).toEqual([{ n: 1 }]));
    await again.post(`/api/alignments/${id}/abandon`);
    await holding.commit();
    await again.close();
    expect(heard.slice(heard.indexOf('left'))).toEqual(['left']);
  });

  it('survives a database that goes away just when a gone alignment is to be dropped', async () => {
    const again = await startTestServer();
    const id = (
      await again.post(`/api/links/${await again.linkId('Hatchery')}/alignments`, {
        nearSource: 'phone',
        farSource: 'none',
        order: 'endByEnd',
      })
    ).body.id as string;
    const found = vi.spyOn(AlignmentRow, 'findByPk').mockResolvedValue(null);
    const query = vi.spyOn(Sequelize.prototype, 'query').mockRejectedValue(new Error('the database is gone'));
    // A rejection that nobody handles would end the server, and here the test run.
    await vi.waitFor(() => expect(found).toHaveBeenCalled());
    await pause(200);
    query.mockRestore();
    found.mockRestore();
    expect((await again.get(`/api/alignments/${id}`)).status).toBe(200);
    await again.close();
  });

  it('is opened once, though what takes up alignments that nobody reads comes upon it while it begins', async () => {
    const again = await startTestServer();
    const linkId = await again.linkId('Hatchery');
    const readerOf = StandinWorlds.prototype.readerOf;
    const opening = vi.spyOn(StandinWorlds.prototype, 'readerOf').mockImplementation(async function (
      this: StandinWorlds,
      ...ids
    ) {
      // Longer than it takes until leases are renewed and what nobody reads is taken up.
      await pause(1200);
      return readerOf.apply(this, ids);
    });
    const body = { nearSource: 'phone', farSource: 'none', order: 'endByEnd' };
    const id = (await again.post(`/api/links/${linkId}/alignments`, body)).body.id as string;
    let shown = 0;
    await again.alignments.watch(id, { leave: () => undefined, show: () => void shown++ });
    await pause(2600);
    const before = shown;
    await vi.waitFor(() => expect(shown).toBeGreaterThan(before + 3));
    // A reader of each end; what other servers of these tests read meanwhile does not count.
    const { contexts } = opening.mock;
    expect(contexts.filter((worlds) => worlds === contexts[0])).toHaveLength(2);
    opening.mockRestore();
    await again.close();
  });

  it('counts fifty taps that come at once, and lets only one of ten endings be the end', async () => {
    const again = await startTestServer();
    const linkId = await again.linkId('Gauge hut');
    const id = (
      await again.post(`/api/links/${linkId}/alignments`, { nearSource: 'scale', farSource: 'none', order: 'endByEnd' })
    ).body.id as string;
    const taps = await Promise.all(
      Array.from({ length: 50 }, () =>
        again.post(`/api/alignments/${id}/marks`, { id: randomUUID(), end: 'near', kind: 'notch', direction: 1 }),
      ),
    );
    expect(taps.map((t) => t.status)).toEqual(Array.from({ length: 50 }, () => 200));
    expect(((await again.get(`/api/alignments/${id}`)).body as AlignmentView).marks).toHaveLength(50);
    const endings = await Promise.all(
      Array.from({ length: 10 }, (_, i) => again.post(`/api/alignments/${id}/${i % 2 ? 'finish' : 'abandon'}`)),
    );
    expect(endings.filter((e) => e.status === 200)).toHaveLength(1);
    const { events } = (await again.get(`/api/links/${linkId}/events`)).body as TimelineView;
    expect(events.filter((e) => e.detail.alignmentId === id)).toHaveLength(1);
    await again.close();
  });

  it('is left by a server that stops while it renews its leases: none is taken after the last was given back', async () => {
    const again = await startTestServer();
    const body = { nearSource: 'phone', farSource: 'none', order: 'endByEnd' };
    const id = (await again.post(`/api/links/${await again.linkId('Gauge hut')}/alignments`, body)).body.id as string;
    const { take, releaseAll } = Leases.prototype;
    const taking = vi.spyOn(Leases.prototype, 'take').mockImplementation(async function (this: Leases, names) {
      await pause(300);
      return take.call(this, names);
    });
    // The connection stays open for as long as a renewal may still be on its way.
    const leaving = vi.spyOn(Leases.prototype, 'releaseAll').mockImplementation(async function (this: Leases) {
      await releaseAll.call(this);
      await pause(600);
    });
    await vi.waitFor(() => expect(taking.mock.calls.join()).toContain(id));
    await again.alignments.stop();
    taking.mockRestore();
    leaving.mockRestore();
    expect(await again.sequelize.query('SELECT name FROM lease', { type: QueryTypes.SELECT })).toEqual([]);
    await again.close();
  });

  it('is read by one server at a time, and by the next when that one is gone', async () => {
    const one = await startTestServer();
    const two = await startTestServer({ over: one.databaseUrl });
    const linkId = await one.linkId('Gauge hut');
    const id = (
      await one.post(`/api/links/${linkId}/alignments`, { nearSource: 'phone', farSource: 'phone', order: 'endByEnd' })
    ).body.id as string;
    const samples = async (): Promise<number[]> =>
      ((await two.get(`/api/alignments/${id}`)).body as AlignmentView).samples.map((s) => s.tS);
    await vi.waitFor(async () => expect((await samples()).length).toBeGreaterThan(4));
    const before = await samples();
    expect(new Set(before).size * 2).toBe(before.length); // two ends at each moment, and no moment twice
    await one.alignments.stop();
    const third = await startTestServer({ over: one.databaseUrl });
    await vi.waitFor(async () => expect((await samples()).length).toBeGreaterThan(before.length + 4));
    for (const server of [one, two, third]) await server.close();
  });

  it('of a hub turns the station only, and refuses to turn the hub', async () => {
    const again = await startTestServer();
    const started = await again.post(`/api/links/${await again.linkId('Boat yard')}/alignments`, {
      nearSource: 'phone',
      farSource: 'phone',
      order: 'endByEnd',
    });
    expect(started.body.ends).toEqual(['far']);
    const hands = `/api/standin/links/${await again.linkId('Boat yard')}/turns`;
    const refused = await again.post(hands, { end: 'near', axis: 'azimuth', byDeg: 5 });
    expect(refused.body.detail).toContain('stays where it points');
    expect((await again.post(hands, { end: 'far', axis: 'azimuth', byDeg: 5 })).status).toBe(200);
    await again.close();
  });

  it('hears nothing where the radios have no settings, or cannot pair', async () => {
    const again = await startTestServer();
    for (const name of ['Quay crane', 'Net loft']) {
      const started = await again.post(`/api/links/${await again.linkId(name)}/alignments`, {
        nearSource: 'phone',
        farSource: 'phone',
        order: 'endByEnd',
      });
      const samples = await vi.waitFor(async () => {
        const view = (await again.get(`/api/alignments/${started.body.id}`)).body as AlignmentView;
        expect(view.samples.length).toBeGreaterThan(4);
        return view.samples;
      }, 10_000);
      expect(samples.every((s) => s.rslDbm === null && s.chainsDbm.length === 0)).toBe(true);
    }
    await again.close();
  });
});
