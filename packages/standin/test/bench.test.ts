import type { Model, Sheet } from '@kivram/core';
import { describe, expect, it } from 'vitest';
import { runBench, type BenchRadio } from '../src';
import { testModel } from './models';

const sheet = (role: Sheet['role'], changes: Partial<Sheet> = {}): Sheet => ({
  role,
  networkName: 'mole-light',
  security: 'wpa2-psk',
  passphrase: 'abcd-efgh-jkmn',
  band: '5GHz',
  centreMHz: 5775,
  scanMHz: [],
  widthMHz: 80,
  followsWidth: false,
  protocol: '802.11',
  ptpOnly: false,
  bridge: true,
  conductedDbm: 4,
  country: 'XT',
  address: role === 'ap' ? '10.61.4.12' : '10.61.4.13',
  prefix: 24,
  gateway: null,
  deviceName: role,
  firmware: '2.1',
  txMHz: null,
  rxMHz: null,
  ...changes,
});
const radio = (
  label: string,
  role: Sheet['role'],
  changes: Partial<Sheet> = {},
  more: { model?: Model; otherStations?: number } = {},
): BenchRadio => ({
  label,
  model: testModel(),
  otherStations: 0,
  ...more,
  sheet: sheet(role, changes),
});
const story = (near: BenchRadio, far: BenchRadio): string =>
  runBench(near, far)
    .events.map((e) => `${e.who} ${e.what}`)
    .join('\n');

describe('radios on the bench', () => {
  it('boot, scan, join, prove the passphrase, and carry the network: step by step and in time', () => {
    const run = runBench(radio('office', 'ap'), radio('lamp', 'station'));
    expect(run).toMatchObject({ associated: true, linked: true });
    expect(run.events.map((e) => e.what)).toEqual([
      'is on air on 5775 MHz',
      'starts as a station',
      'hears "mole-light" on 5775 MHz and asks to join',
      'is associated',
      'a frame passes both ways',
      'each radio answers the other',
    ]);
    const times = run.events.map((e) => e.atS);
    expect(times).toEqual([...times].sort((a, b) => a - b));
    expect(times[0]).toBeGreaterThanOrEqual(30);
  });

  it('the station finds an access point on any channel its country allows, when its list is empty', () => {
    for (const centreMHz of [5210, 5290, 5530, 5610, 5775]) {
      expect(
        runBench(radio('a', 'ap', { centreMHz }), radio('b', 'station', { centreMHz: 0 })).linked,
        String(centreMHz),
      ).toBe(true);
    }
  });

  it.each<[string, Partial<Sheet>, string]>([
    [
      'a wrong passphrase is refused by the access point',
      { passphrase: 'abcd-efgh-jkmm' },
      'office refuses a wrong passphrase',
    ],
    [
      'a name in capitals is another network',
      { networkName: 'Mole-Light' },
      'lamp hears "mole-light", which is not its network',
    ],
    ['another security is seen in the beacon', { security: 'wpa3-sae' }, 'lamp hears its network with wpa2-psk'],
    ['a band it has not got keeps it silent', { band: '60GHz' }, 'lamp does not start: it has no 60GHz receiver'],
    ['a missing passphrase keeps it silent', { passphrase: null }, 'lamp does not start: its passphrase is missing'],
    ['a width it has not got keeps it silent', { widthMHz: 160 }, 'lamp does not start: it cannot filter 160 MHz'],
    [
      'a reserved address keeps it silent',
      { address: '10.61.4.255' },
      'lamp does not start: 10.61.4.255 cannot belong',
    ],
    ['a router does not pass frames', { bridge: false }, 'frames do not pass'],
    ['an address twice is answered by both', { address: '10.61.4.12' }, 'both radios answer to 10.61.4.12'],
    ['another subnet is out of reach', { address: '10.61.5.13' }, 'cannot reach each other'],
  ])('%s', (_, change, words) => {
    const far = radio('lamp', 'station', change);
    expect(story(radio('office', 'ap'), far)).toContain(words);
    expect(runBench(radio('office', 'ap'), far).linked).toBe(false);
  });

  it('an access point does not send where its country forbids, nor off the raster', () => {
    expect(story(radio('office', 'ap', { country: 'XM' }), radio('lamp', 'station'))).toContain(
      'may not send on 5775 MHz',
    );
    expect(story(radio('office', 'ap', { centreMHz: 5771 }), radio('lamp', 'station'))).toContain(
      'may not send on 5771 MHz',
    );
  });

  it('a point-to-point access point refuses the second station, an open one takes it', () => {
    const hub = (ptpOnly: boolean): BenchRadio => radio('office', 'ap', { ptpOnly }, { otherStations: 1 });
    expect(story(hub(true), radio('lamp', 'station', { ptpOnly: true }))).toContain('office refuses a second station');
    expect(runBench(hub(false), radio('lamp', 'station')).linked).toBe(true);
  });

  it('a slot protocol needs one slot map', () => {
    const slots = { protocol: 'slots' as const };
    expect(runBench(radio('a', 'ap', slots), radio('b', 'station', slots)).linked).toBe(true);
    expect(story(radio('a', 'ap', { ...slots, ptpOnly: true }), radio('b', 'station', slots))).toContain(
      'slot map it cannot follow',
    );
  });

  it('full-duplex radios hear each other only on exchanged frequencies', () => {
    const narrow = { model: testModel({ band: 'licensed' }) };
    const common = { band: 'licensed' as const, widthMHz: 0.025 };
    const near = radio('a', 'ap', { ...common, txMHz: 440, rxMHz: 450 }, narrow);
    expect(runBench(near, radio('b', 'station', { ...common, txMHz: 450, rxMHz: 440 }, narrow)).linked).toBe(true);
    expect(runBench(near, radio('b', 'station', { ...common, txMHz: 440, rxMHz: 450 }, narrow)).linked).toBe(false);
  });

  it('two access points wait for ever, two stations listen for ever', () => {
    expect(runBench(radio('a', 'ap'), radio('b', 'ap', { address: '10.61.4.13' })).associated).toBe(false);
    expect(runBench(radio('a', 'station', { address: '10.61.4.12' }), radio('b', 'station')).associated).toBe(false);
  });
});
