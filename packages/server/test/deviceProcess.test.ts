import { LevelAgent } from '@kivram/standin/agent/levelAgent';
import { createSocket, type Socket } from 'node:dgram';
import { once } from 'node:events';
import { mkdtemp, rm } from 'node:fs/promises';
import { createServer as createPage, type Server } from 'node:http';
import { createServer as createSecurePage } from 'node:https';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { DeviceProcesses } from '../src/radio/devices/deviceProcess';
import type { DeviceSetup, DeviceValues } from '../src/radio/devices/setup';
import { CertificateError } from '../src/radio/devices/httpAnswer';
import { OutsideError } from '../src/radio/devices/whereabouts';
import { certificateFor } from '../src/lan/certificate';
import { PolledReader } from '../src/radio/polledReader';

const branch = '1.3.6.1.4.1.32473.77';
const values = (where: string, scale = 1): DeviceValues => ({
  level: { where, type: 'number', scale, offset: 0 },
  chains: [],
  noise: null,
  txRate: null,
  rxRate: null,
});
const ofPage = (url: string, changes: object = {}): DeviceSetup => ({
  way: 'http',
  access: { url, ownCertificate: false, ...changes },
  secrets: { password: 'in here' },
  isFromHere: true,
  values: values('/level'),
});
const bySnmp = (port: number): DeviceSetup => ({
  way: 'snmp',
  access: { host: '127.0.0.1', port, version: '2c' },
  secrets: { community: 'quiet-field' },
  peerMac: null,
  values: values(`${branch}.1.0`, 0.1),
});

const devices = new DeviceProcesses();
afterAll(() => devices.stop());

describe('a device that is asked in a process of its own', () => {
  let page: Server;
  let url: string;
  beforeAll(async () => {
    const answers: Record<string, string> = {
      '/': '{"level":-58}',
      '/deep': `${'['.repeat(400_000)}${']'.repeat(400_000)}`,
      '/wide': `{"${'k'.repeat(450_000)}":[${Array<number>(900).fill(-58).join(',')}]}`,
      '/many': `[${Array<number>(40_000).fill(-58).join(',')}]`,
    };
    page = createPage((request, response) => response.end(answers[request.url ?? ''])).listen(0, '127.0.0.1');
    await once(page, 'listening');
    url = `http://127.0.0.1:${(page.address() as AddressInfo).port}`;
  });
  afterAll(() => page.close());

  it('tells what it tells, and what it cannot', async () => {
    const device = devices.open(ofPage(`${url}/`));
    expect(await device.ask()).toMatchObject({ rslDbm: -58 });
    expect((await device.explore()).values).toMatchObject([{ where: '/level', number: -58 }]);
    device.close();
    await expect(device.ask()).rejects.toThrow(/not asked any more|asked again/);
    const outside = devices.open(ofPage('http://8.8.8.8/'));
    await expect(outside.ask()).rejects.toThrow(OutsideError);
    await expect(outside.ask()).rejects.toMatchObject({ address: '8.8.8.8' });
    outside.close();
  });

  it('is believed no more than a radio can say: neither its depth, its keys nor its length take anything', async () => {
    for (const [path, words] of [
      ['/deep', 'deep: that is no state of a radio'],
      ['/many', 'holds 40001 values'],
    ] as const) {
      const device = devices.open(ofPage(`${url}${path}`));
      await expect(device.explore(), path).rejects.toThrow(words);
      device.close();
    }
    const wide = devices.open(ofPage(`${url}/wide`));
    expect(await wide.explore()).toMatchObject({ values: [], isWhole: true });
    wide.close();
  });

  it.runIf(process.getuid?.() === 0)("asks, and runs commands, without root's rights", async () => {
    const device = devices.open({
      way: 'command',
      command: { name: 'who', program: '/usr/bin/id', arguments: '' },
      secrets: {},
      values: values(''),
    } as DeviceSetup);
    await expect(device.explore()).rejects.toThrow(
      /it begins "uid=65534\(nobody\) gid=65534\(nogroup\) groups=65534\(nogroup\)"/,
    );
    device.close();
  });

  it('is ended where it takes more memory than it may, and asked again after a while', async () => {
    const small = new DeviceProcesses({ bytes: 1024 * 1024, share: 1, answerMs: 60_000 });
    const reader = new PolledReader('http', small.open(ofPage(`${url}/`)));
    await vi.waitFor(() => expect(reader.trouble).toMatch(/ended the program that reads it, \d+ times/));
    reader.close();
    small.stop();
  });
});

describe('a radio whose answers are crafted', () => {
  let agent: LevelAgent;
  let between: Socket;
  /** what is made of an answer on its way back */
  let change = (answer: Buffer): Buffer => answer;
  beforeAll(async () => {
    const access = {
      community: 'quiet-field',
      userName: 'kivram',
      authPassword: 'signs-it-well',
      privPassword: 'hides-it-well',
    };
    agent = await LevelAgent.start(
      () => Promise.resolve({ rslDbm: -58, chainsDbm: [-61, -61], noiseDbm: -95, txMbps: 100, rxMbps: 90 }),
      access,
      { everyMs: 50 },
    );
    between = createSocket('udp4');
    between.bind(0, '127.0.0.1');
    await once(between, 'listening');
    between.on('message', (question, { port }) => {
      const on = createSocket('udp4');
      on.once('message', (answer) => {
        between.send(change(answer), port, '127.0.0.1');
        on.close();
      });
      on.send(question, agent.port, '127.0.0.1');
    });
  });
  afterAll(() => {
    between.close();
    agent.close();
  });

  // A report (PDU type 8 of RFC 3416) is for version 3 only; net-snmp 3.29 throws over one in version 2c, where nothing could catch it.
  it('ends nothing but the process that asks it, and is told of in words', async () => {
    const port = between.address().port;
    const reader = new PolledReader('snmp', devices.open(bySnmp(port)));
    await vi.waitFor(async () => expect((await reader.read()).rslDbm).toBeCloseTo(-58, 6));
    change = (answer) => {
      const crafted = Buffer.from(answer);
      const at = crafted.indexOf(0xa2);
      if (at > 0) crafted[at] = 0xa8;
      return crafted;
    };
    await vi.waitFor(() => expect(reader.trouble).toContain('ended the program that reads it'));
    change = (answer) => answer;
    // It comes back by itself once the radio answers as radios do.
    await vi.waitFor(() => expect(reader.trouble).toBeNull(), { timeout: 60_000 });
    reader.close();
  });
});

describe('a radio that vouches for itself', () => {
  it('is sent nothing before its certificate was confirmed, nor when it shows another one', async () => {
    const heard: unknown[] = [];
    const folder = await mkdtemp(join(tmpdir(), 'kivram-vouches-'));
    const { chain, key } = await certificateFor(['127.0.0.1'], folder);
    await rm(folder, { recursive: true });
    const page = createSecurePage({ cert: chain, key }, (request, response) => {
      heard.push(request.headers.authorization);
      response.end('{"level":-58}');
    }).listen(0, '127.0.0.1');
    await once(page, 'listening');
    const url = `https://127.0.0.1:${(page.address() as AddressInfo).port}/`;
    const ask = async (certificate?: string): Promise<unknown> => {
      const access = { userName: 'admin', ownCertificate: true, ...(certificate && { certificate }) };
      const device = devices.open(ofPage(url, access));
      try {
        return await device.ask();
      } finally {
        device.close();
      }
    };
    const unknown = (await ask().catch((error: unknown) => error)) as CertificateError;
    expect(unknown).toBeInstanceOf(CertificateError);
    expect(unknown.message).toContain('Nothing was sent');
    await expect(ask(Array<string>(32).fill('4F').join(':'))).rejects.toThrow('another certificate than the one');
    expect(heard).toEqual([]);
    expect(await ask(unknown.fingerprint)).toMatchObject({ rslDbm: -58 });
    expect(heard).toHaveLength(1);
    page.close();
  });
});
