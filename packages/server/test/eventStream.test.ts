import { once } from 'node:events';
import { createServer, type Server } from 'node:http';
import { connect, type AddressInfo, type Socket } from 'node:net';
import type { Response } from 'express';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { EventStream } from '../src/http/eventStream';

let server: Server;
let stream: EventStream;
const opened = vi.fn();
beforeAll(async () => {
  server = createServer((_request, response) => {
    stream = new EventStream(response as Response);
    stream.begin();
    opened();
  }).listen(0, '127.0.0.1');
  await once(server, 'listening');
});
afterAll(() => server.close());

/** A viewer who reads what comes, until told otherwise. */
async function viewer(): Promise<Socket> {
  opened.mockClear();
  const line = connect((server.address() as AddressInfo).port, '127.0.0.1');
  line.on('error', () => undefined);
  line.write('GET / HTTP/1.1\r\nHost: x\r\n\r\n');
  await vi.waitFor(() => expect(opened).toHaveBeenCalled());
  return line;
}

describe('a stream to one viewer', () => {
  it('takes what is said after its end, and after its line is gone, without a word', async () => {
    const line = await viewer();
    stream.end();
    for (const say of [() => stream.say({ type: 'late' }), () => stream.begin(), () => stream.end()])
      expect(say).not.toThrow();
    line.destroy();
    const gone = await viewer();
    const closed = vi.fn();
    stream.whenClosed(closed);
    gone.destroy();
    // Said in the same moment, before the end of the line is known here.
    for (let i = 0; i < 100; i++) stream.say({ i });
    await vi.waitFor(() => expect(closed).toHaveBeenCalled());
    stream.say({ type: 'late' });
    const again = vi.fn();
    stream.whenClosed(again);
    expect(again).toHaveBeenCalled();
  });

  it('lets a viewer go who takes nothing, before much waits for him', async () => {
    const line = await viewer();
    line.pause();
    const closed = vi.fn();
    stream.whenClosed(closed);
    const piece = 'x'.repeat(10_000);
    let said = 0;
    while (stream.isOpen && said < 100e6) {
      stream.say({ piece });
      said += piece.length;
    }
    expect(said).toBeLessThan(20e6);
    await vi.waitFor(() => expect(closed).toHaveBeenCalled());
    line.destroy();
  });
});
