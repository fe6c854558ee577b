import type { Request } from 'express';
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { createServer, request as ask, type Server } from 'node:http';
import { connect, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { once } from 'node:events';
import { pino } from 'pino';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { Uploads } from '../src/http/uploads';
import { nobody } from '../src/http/who';
import { problemOf } from '../src/http/problem';
import { Opening } from '../src/lan/opening';
import { startTestServer, type TestServer } from './server';

describe('at the computer itself', () => {
  const token = 'made-when-it-started';
  let server: TestServer;
  beforeAll(async () => {
    server = await startTestServer({ hereToken: token });
  });
  afterAll(() => server.close());
  const browser = () => request.agent(server.app).set('host', '127.0.0.1');

  it('a browser is answered once it came by the address that was printed, and so is it later', async () => {
    const own = browser();
    const entered = await own.get(`/?here=${token}&x=1`);
    // The token stays in no address.
    expect([entered.status, entered.headers.location]).toEqual([303, '/']);
    const cookie = String(entered.headers['set-cookie']);
    for (const part of ['HttpOnly', 'SameSite=Strict', 'Path=/']) expect(cookie).toContain(part);
    expect(cookie).not.toContain(token);
    expect((await own.get('/api/jobs')).status).toBe(200);
    expect((await server.get('/api/session')).body).toMatchObject({ isHere: true });
  });

  it('another account is told to, whatever it asks, and gets nothing but how the server is', async () => {
    const other = browser();
    for (const [method, path] of [
      ['get', '/api/jobs'],
      ['get', '/api/session'],
      ['get', `/api/jobs/${server.jobId}/export`],
      ['get', '/api/settings'],
      ['get', '/api/openapi.json'],
      ['put', '/api/session'],
      ['post', '/api/jobs/import'],
      ['get', '/api/health/../jobs'],
      ['get', '/API/jobs'],
      ['get', '/Api/Jobs'],
      ['get', '/api/jobs/'],
      ['get', '/api'],
      ['get', '/api/%6aobs'],
    ] as const)
      expect((await other[method](path)).status, path).toBe(401);
    expect((await other.get('/api/jobs')).body.detail).toContain('the address that its start command printed');
    expect((await other.get('/api/health')).status).toBe(200);
    for (const wrong of ['', 'x', `${token}x`, token.toUpperCase()]) {
      const answer = await other.get(`/?here=${wrong}`);
      expect(answer.headers['set-cookie'], wrong).toBeUndefined();
    }
    // It leads nowhere else, and lets in nowhere else.
    for (const path of ['//elsewhere.example', '/jobs'])
      expect((await other.get(`${path}?here=${token}`)).headers, path).not.toHaveProperty('set-cookie');
    // A cookie that this server did not sign.
    const own = await browser().get(`/?here=${token}`);
    const [name = ''] = String(own.headers['set-cookie']).split('=');
    expect((await other.get('/api/jobs').set('cookie', `${name}=abc.def`)).status).toBe(401);
  });
});

describe('the door to the network', () => {
  it('is open on the addresses that this computer has, and nowhere else, also when they change', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'kivram-door-'));
    let addresses = ['127.0.0.1', '127.0.0.2'];
    const opening = await Opening.prepare(folder, 0, pino({ level: 'silent' }), () => addresses);
    await opening.listen((() => undefined) as never);
    const port = Number(new URL(opening.view().addresses[0] ?? '').port);
    const isOpen = (address: string): Promise<boolean> =>
      new Promise((resolve) => {
        const line = connect(port, address, () => resolve(true));
        line.once('error', () => resolve(false));
        line.once('connect', () => line.destroy());
      });
    const now = () => Promise.all(['127.0.0.1', '127.0.0.2', '127.0.0.3'].map(isOpen));
    expect(await now()).toEqual([true, true, false]);
    addresses = ['127.0.0.2', '127.0.0.3'];
    await opening.look();
    expect(await now()).toEqual([false, true, true]);
    expect(opening.view().addresses).toEqual([`https://127.0.0.2:${port}`, `https://127.0.0.3:${port}`]);
    expect([opening.isHost(`127.0.0.1:${port}`), opening.isHost(`127.0.0.3:${port}`)]).toEqual([false, true]);
    opening.close();
    await rm(folder, { recursive: true });
  });
});

describe('a file that is sent', () => {
  let server: Server;
  let uploads: Uploads;
  let port = 0;
  beforeAll(async () => {
    uploads = await Uploads.in(undefined, 300);
    server = createServer((incoming, response) => {
      const from = Object.assign(incoming, {
        res: response,
        who: { ...nobody(false), personId: incoming.headers['x-person'] ?? null },
      }) as unknown as Request;
      uploads
        .receive(from, 1, ({ bytes }) => Promise.resolve({ status: 200, bytes }))
        .catch((error: unknown) => problemOf(error))
        .then((said) => response.writeHead(said.status).end(JSON.stringify(said)))
        .catch(() => undefined);
    }).listen(0, '127.0.0.1');
    await once(server, 'listening');
    port = (server.address() as AddressInfo).port;
  });
  afterAll(async () => {
    server.closeAllConnections();
    server.close();
    await uploads.remove();
  });

  /** @returns the status of its answer; null where the line was cut */
  const send = (person: string, end: boolean): { over: Promise<number | null>; stop(): void } => {
    const sending = ask({ port, host: '127.0.0.1', method: 'POST', headers: { 'x-person': person } });
    const over = new Promise<number | null>((resolve) => {
      sending.once('response', (answer) => resolve(answer.statusCode ?? null));
      sending.once('error', () => resolve(null));
    });
    sending.write('a part of it');
    if (end) sending.end('the rest');
    return { over, stop: () => sending.destroy() };
  };

  it('and stops on the way is given up, and those behind it come in', async () => {
    const stalled = ['one', 'two', 'three', 'four'].map((person) => send(person, false));
    const whole = send('five', true);
    expect(await whole.over).toBe(200);
    for (const { over } of stalled) expect([408, null]).toContain(await over);
    await vi.waitFor(async () => expect(await readdir(uploads.folder)).toEqual([]));
  });

  it('by somebody who sends many leaves room for others', async () => {
    await uploads.remove();
    // None of the many is given up while this goes on.
    uploads = await Uploads.in(undefined, 600_000);
    const many = Array.from({ length: 8 }, () => send('one', false));
    expect(await send('two', true).over).toBe(200);
    for (const { stop } of many) stop();
  });
});
