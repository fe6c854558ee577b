import { LevelAgent } from '@kivram/standin/agent/levelAgent';
import { PoorPath } from '@kivram/standin/agent/poorPath';
import { once } from 'node:events';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { commandAnswer } from '../src/radio/devices/commandAnswer';
import { httpAnswer, hushed } from '../src/radio/devices/httpAnswer';
import { JsonDevice } from '../src/radio/devices/jsonDevice';
import { numberIn, toldBy } from '../src/radio/devices/profileValues';
import { SnmpDevice } from '../src/radio/devices/snmpDevice';
import { addressOf, urlIn } from '../src/radio/devices/whereabouts';
import { PolledReader } from '../src/radio/polledReader';

const access = {
  community: 'quiet-field',
  userName: 'kivram',
  authPassword: 'signs-it-well',
  privPassword: 'hides-it-well',
};
const branch = '1.3.6.1.4.1.32473.77';
const of = (where: string, scale = 1, type: 'number' | 'text' | 'float' = 'number') => ({
  where,
  type,
  scale,
  offset: 0,
});
const nothing = { level: null, chains: [], noise: null, txRate: null, rxRate: null };
const profile = {
  ...nothing,
  level: of(`${branch}.1.0`, 0.1),
  chains: [of(`${branch}.2.0`, 0.1)],
  noise: of(`${branch}.4.0`, 0.1),
};

let levelDbm: number | null = -63.4;
let agent: LevelAgent;
beforeAll(async () => {
  const measure = () =>
    Promise.resolve({ rslDbm: levelDbm, chainsDbm: [levelDbm ?? -128], noiseDbm: -95, txMbps: 300, rxMbps: 270.5 });
  agent = await LevelAgent.start(measure, access, { everyMs: 50 });
});
afterAll(() => agent.close());

type Setting = ConstructorParameters<typeof SnmpDevice>[0];

function device(
  changes: Partial<Setting['access']> = {},
  secrets: Setting['secrets'] = access,
  values: object = profile,
  peerMac: string | null = null,
): SnmpDevice {
  const setting = {
    access: { host: '127.0.0.1', port: agent.port, version: '2c' as const, ...changes },
    secrets,
    peerMac,
  };
  return new SnmpDevice(setting, { ...nothing, ...values });
}

describe('a radio that answers by SNMP', () => {
  const user = {
    version: '3' as const,
    userName: 'kivram',
    authProtocol: 'sha' as const,
    privProtocol: 'aes' as const,
  };

  it.each([
    ['version 1', { version: '1' as const }],
    ['version 2c', {}],
    ['version 3, signed and encrypted', user],
  ])('tells its level by %s', async (_, changes) => {
    const radio = device(changes);
    expect(await radio.ask()).toEqual({
      rslDbm: expect.closeTo(-63.4, 6),
      chainsDbm: [expect.closeTo(-63.4, 6)],
      told: { noiseDbm: expect.closeTo(-95, 6) },
    });
    radio.close();
  });

  it('hears nothing where it tells a figure that no receiver reaches', async () => {
    levelDbm = null;
    const radio = device();
    await vi.waitFor(async () => expect((await radio.ask()).rslDbm).toBeNull());
    levelDbm = -63.4;
    radio.close();
  });

  it('is walked, with the words and numbers that it answers', async () => {
    const radio = device();
    const words = async () => (await radio.explore(branch)).values.at(-1)?.text;
    await vi.waitFor(async () => expect(await words()).toContain('hears'));
    const { values, isWhole } = await radio.explore(branch);
    expect(isWhole).toBe(true);
    expect(values).toHaveLength(7);
    expect(values.find(({ where }) => where === `${branch}.7.0`)).toEqual({
      where: `${branch}.7.0`,
      text: 'hears -63.4 dBm',
      number: -63.4,
      type: 'text',
    });
    radio.close();
  });

  it.each([
    [
      'the community is another one',
      {},
      { community: 'wrong' },
      /does not answer by SNMP on port \d+: .*community right/,
    ],
    ['nothing answers there', { port: 9 }, access, /does not answer by SNMP on port 9/],
    ['the password is another one', user, { ...access, authPassword: 'other-password' }, /does not answer|error/],
    ['a password is too short', user, { ...access, authPassword: 'short' }, /fewer than 8 characters/],
    ['no community was typed', {}, {}, /Type the community/],
    ['no user was typed', { ...user, userName: '' }, access, /Type the user name/],
    ['the name is not known', { host: 'no-such-radio.invalid' }, access, /not known here/],
  ])('says so where %s', async (_, changes, secrets, words) => {
    const radio = device(changes, secrets);
    await expect(radio.ask()).rejects.toThrow(words);
    radio.close();
  });

  it('says where the profile asks for what is not there, or for what is not known', async () => {
    const wrong = device({}, access, { ...nothing, level: of(`${branch}.99.0`) });
    await expect(wrong.ask()).rejects.toThrow('has none of the values of this profile');
    wrong.close();
    const byMac = { ...nothing, level: of(`${branch}.1.{mac}`) };
    expect(() => device({}, access, byMac)).toThrow('hardware address of the other radio');
    expect(() => device({}, access, byMac, '02:00:5e:10:00:ff')).not.toThrow();
    expect(() => device({}, access, { ...nothing, level: of('level') })).toThrow('"level" is no object identifier');
  });

  it('is read as fast as it bears over a path that loses a fifth, and each measurement once', async () => {
    const path = await PoorPath.to(agent.port, { lossShare: 0.1, delayMs: 10, seed: 3 });
    const reader = new PolledReader('snmp', device({ port: path.port }));
    const heard: { rslDbm: number | null; isRepeat?: boolean; ageS?: number }[] = [];
    const fresh = () => heard.filter(({ isRepeat }) => !isRepeat);
    const levels = () => new Set(fresh().map(({ rslDbm }) => Math.round(rslDbm ?? 0))).size;
    // A busy machine loses more than the path does: it goes on until six levels have come through.
    for (let i = 0; i < 80 || levels() <= 5; i++) {
      levelDbm = -60 - (Math.floor(i / 10) % 30);
      heard.push(await reader.read());
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    reader.close();
    path.close();
    levelDbm = -63.4;
    expect(fresh().length, 'a value that was not refreshed is no second one').toBeLessThan(heard.length / 2);
    for (const { ageS } of fresh()) expect(ageS).toBeGreaterThan(0.005);
    expect(reader.trouble).toBeNull();
  });

  it('is said not to answer once it has not for some seconds', async () => {
    const reader = new PolledReader('snmp', device({ port: 9 }));
    expect((await reader.read()).isRepeat).toBe(true);
    await vi.waitFor(() => expect(reader.trouble).toContain('does not answer by SNMP'));
    reader.close();
  });
});

describe('an address that answers JSON', () => {
  let page: Server;
  let url: string;
  beforeAll(async () => {
    page = createServer((request, response) => {
      if (request.url === '/moved') return void response.writeHead(302, { location: 'http://192.0.2.1/' }).end();
      if (request.url === '/text') return void response.end('<html>');
      if (request.url?.startsWith('/repeats')) {
        const sent = request.headers.authorization ?? '';
        const said = `${sent} ${Buffer.from(sent.replace('Basic ', ''), 'base64').toString()}`;
        return void response.end(
          request.url === '/repeats' ? said : JSON.stringify({ [said]: said, level: -58, rate: 300_000_000 }),
        );
      }
      if (request.headers.authorization !== `Basic ${Buffer.from('admin:in here').toString('base64')}`)
        return void response.writeHead(401).end();
      response.end(
        JSON.stringify({ stations: [{ 'mac/1': '02', signal: '-61 dBm', chains: [-64, -64.5] }], up: true }),
      );
    }).listen(0, '127.0.0.1');
    await once(page, 'listening');
    url = `http://127.0.0.1:${(page.address() as AddressInfo).port}`;
  });
  afterAll(() => page.close());

  const ask = (path: string, values: object, password = 'in here') =>
    new JsonDevice(
      () => httpAnswer({ url: `${url}${path}`, userName: 'admin', ownCertificate: false }, password, undefined, true),
      { ...nothing, ...values },
      hushed({ userName: 'admin' }, password),
    );

  it('tells what stands at the paths into its answer, and adds up its chains where it tells no level', async () => {
    const level = of('/stations/0/signal', 1, 'text');
    expect((await ask('/', { level }).ask()).rslDbm).toBe(-61);
    const chains = [of('/stations/0/chains/0'), of('/stations/0/chains/1')];
    expect((await ask('/', { chains }).ask()).rslDbm).toBeCloseTo(-61.23, 2);
    expect((await ask('/', { level: of('/nowhere') }).ask()).rslDbm).toBeNull();
  });

  it('is looked through, with paths that lead back to the values', async () => {
    const { values } = await ask('/', {}).explore();
    expect(values.map(({ where }) => where)).toEqual([
      '/stations/0/mac~11',
      '/stations/0/signal',
      '/stations/0/chains/0',
      '/stations/0/chains/1',
      '/up',
    ]);
    expect(values[1]).toMatchObject({ type: 'text', number: -61 });
  });

  it('that repeats what it is sent shows no password', async () => {
    for (const password of ['in here', 'with "two" \\ /signs~']) {
      await expect(ask('/repeats', {}, password).ask()).rejects.toThrow('it begins "Basic ••• admin:•••"');
      const told = await ask('/repeats.json', {}, password).explore();
      expect(told.values).toMatchObject([{ text: 'Basic ••• admin:•••' }, { number: -58 }, { number: 3e8 }]);
      expect(JSON.stringify(told)).not.toContain(password.slice(0, 4));
    }
    // A short one may stand there by chance, and a simple one in a number: what is read is left as it is.
    expect((await ask('/repeats.json', {}, '58').explore()).values[1]).toMatchObject({ text: '-58', number: -58 });
    expect((await ask('/repeats.json', { level: of('/level') }, '000000').ask()).rslDbm).toBe(-58);
  });

  it('says what came instead', async () => {
    await expect(ask('/', {}, 'wrong').ask()).rejects.toThrow('wants a user name and a password');
    expect(() => urlIn('http://[fe80::1%25lo]/')).toThrow('is no address: write one like');
    await expect(ask('/text', {}).ask()).rejects.toThrow('no JSON; it begins "<html>"');
    await expect(ask('/moved', {}).ask()).rejects.toThrow('answers with status 302');
    await expect(ask('/', { level: of('stations') }).ask()).rejects.toThrow('no path into the answer');
    await expect(
      httpAnswer({ url: 'http://127.0.0.1:9/', ownCertificate: false }, undefined, undefined, true),
    ).rejects.toThrow('nothing that answers');
  });
});

describe('a command of this computer', () => {
  const run = (program: string, lines: string[] = [], mostMs?: number) =>
    commandAnswer({ program, arguments: lines.join('\n') }, mostMs);

  it('is run without a shell, and knows nothing of the server', async () => {
    process.env.KIVRAM_TEST_SECRET = 'sealed';
    const known = await run('env');
    expect(known).toContain('PATH=');
    expect(known).not.toContain('KIVRAM');
    delete process.env.KIVRAM_TEST_SECRET;
    expect(await run('printf', ['%s', '$(id); "two words"'])).toBe('$(id); "two words"');
    await expect(run('sh', ['-c', 'echo no radio >&2; exit 3'])).rejects.toThrow('ended with 3: no radio');
    await expect(run('/no/such/program')).rejects.toThrow('is not on this computer');
  });

  it('is told of in words when it gives no answer', async () => {
    await expect(run('head', ['-c', '1100000', '/dev/zero'])).rejects.toThrow('head said more than 1 MB.');
    await expect(run('sh', ['-c', 'kill -9 $$'])).rejects.toThrow('sh was ended by SIGKILL.');
    await expect(run('/etc/passwd')).rejects.toThrow('/etc/passwd may not be run by Kivram');
  });

  it('is ended when it takes too long, also where something that it has started goes on', async () => {
    await expect(run('sleep', ['5'], 50)).rejects.toThrow('took more than 0.05 s');
    await expect(run('sh', ['-c', 'sleep 5 & sleep 5'], 50)).rejects.toThrow('took more than 0.05 s');
  });

  it('is heard where it was in time and this program was not', async () => {
    const file = join(tmpdir(), `kivram-command-${process.pid}`);
    const answer = run('sh', ['-c', 'echo $$ > "$1" && printf "%s" -58', 'sh', file], 50);
    const pause = (): unknown => Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 60);
    // This program hears nothing before the command has ended (Z in proc(5)), nor before its time is over.
    do pause();
    while (!existsSync(file) || !/\) Z/.test(readFileSync(`/proc/${readFileSync(file, 'utf8').trim()}/stat`, 'utf8')));
    rmSync(file);
    expect(await answer).toBe('-58');
  });
});

describe('where a device stands', () => {
  it.each(['127.0.0.1', '10.1.2.3', '192.168.1.20', '172.16.0.9', '::1', 'fd00::5', '[::1]'])(
    '%s is near',
    async (host) => {
      expect((await addressOf(host, undefined)).address).toBe(host.replace(/[[\]]/g, ''));
    },
  );

  // Documentation addresses of RFC 5737 and 3849 are reserved; 8.8.8.8 is anybody's public address, to which nothing is sent here.
  it('is asked about outside of private networks, also in other clothes, and goes when it is meant', async () => {
    await expect(addressOf('8.8.8.8', undefined)).rejects.toThrow('outside of private networks');
    await expect(addressOf('8.8.8.8', '8.8.4.4')).rejects.toThrow('outside of private networks');
    await expect(addressOf('::ffff:8.8.8.8', undefined)).rejects.toThrow('outside of private networks');
    await expect(addressOf('100.64.0.1', undefined)).rejects.toThrow('outside of private networks');
    // Where rented computers tell their secrets (RFC 3927).
    for (const host of ['169.254.169.254', 'fe80::1'])
      await expect(addressOf(host, undefined), host).rejects.toThrow('outside of private networks');
    expect((await addressOf('8.8.8.8', '8.8.8.8')).address).toBe('8.8.8.8');
    await expect(addressOf('0.0.0.0', undefined)).rejects.toThrow('no device');
    for (const host of ['127.0.0.1', 'localhost', '::1', '::ffff:127.0.0.1'])
      await expect(addressOf(host, undefined, false), host).rejects.toThrow('its own pages are chosen there only');
    await expect(addressOf('255.255.255.255', '255.255.255.255')).rejects.toThrow('no device');
  });
});

describe('the number in what a device tells', () => {
  it.each([
    [-63, 'number', -63],
    ['-63', 'number', -63],
    [' ', 'number', null],
    [Buffer.from('RSSI: -63.5 dBm'), 'text', -63.5],
    ['−63', 'text', -63],
    ['down', 'text', null],
    [Buffer.from([0x9f, 0x78, 0x04, 0xc2, 0x7c, 0x00, 0x00]), 'float', -63],
    [Buffer.from([0x9f, 0x78]), 'float', null],
    [NaN, 'number', null],
    [undefined, 'number', null],
    [{}, 'text', null],
  ] as const)('%s as %s is %s', (raw, type, number) => {
    expect(numberIn(raw, type)).toBe(number);
  });

  it('is scaled and moved, and is no level where none can be', () => {
    const told = (raw: unknown) =>
      toldBy({ ...nothing, level: { where: 'x', type: 'number', scale: 0.5, offset: -110 } }, () => raw).rslDbm;
    expect(told(100)).toBe(-60);
    expect(told(300)).toBeNull();
    expect(toldBy({ ...nothing, level: of('x') }, () => 0).rslDbm).toBeNull();
  });
});
