import type { Model } from '@kivram/core/gear/model';
import type { Sheet } from '@kivram/core/pairing/sheet';
import { describe, expect, it } from 'vitest';
import { runBench as runBenchUnder, type BenchRadio } from '../src/radio/bench';
import { testLaw, testModel } from './models';

const runBench = (near: BenchRadio, far: BenchRadio) => runBenchUnder(near, far, testLaw);

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
  neighbours: [],
  errorCorrection: false,
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
  mac: role === 'ap' ? '02:00:00:00:00:01' : '02:00:00:00:00:02',
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
    [
      'another security is seen in the beacon',
      { security: 'wpa3-sae' },
      'lamp hears its network with "WPA2, passphrase"',
    ],
    [
      'a band it does not have keeps it silent',
      { band: '60GHz' },
      'lamp does not start: it has no receiver for 60 GHz',
    ],
    ['a missing passphrase keeps it silent', { passphrase: null }, 'lamp does not start: its passphrase is missing'],
    ['a width it does not have keeps it silent', { widthMHz: 160 }, 'lamp does not start: it cannot filter 160 MHz'],
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

  it('listen a minute for radar before they send where the law asks for it', () => {
    const run = runBench(radio('a', 'ap', { centreMHz: 5530 }), radio('b', 'station'));
    expect(run.linked).toBe(true);
    expect(run.events[0]?.what).toContain('listens for radar');
    expect(run.events.find((e) => e.what === 'starts as a station')?.atS).toBeGreaterThan(115);
  });

  it('do not start with a power they do not have, nor on a frequency beyond them', () => {
    expect(story(radio('a', 'ap', { conductedDbm: 40 }), radio('b', 'station'))).toContain('it cannot send 40 dBm');
    const narrow = { model: testModel({ band: 'licensed' }) };
    const far = radio('b', 'station', { band: 'licensed', widthMHz: 0.025, txMHz: 480, rxMHz: 440 }, narrow);
    expect(story(radio('a', 'ap'), far)).toContain('it does not tune to 480 MHz');
  });

  describe('relays', () => {
    const relay = (label: string, own: number, neighbours: number[], changes: Partial<Sheet> = {}): BenchRadio => ({
      label,
      model: testModel(),
      otherStations: 0,
      mac: `02:00:00:00:00:0${own}`,
      sheet: sheet('relay', {
        address: `10.61.4.1${own}`,
        neighbours: neighbours.map((n) => `02-00-00-00-00-0${n}`),
        ...changes,
      }),
    });

    it('link when each lists the other, however the label writes the address', () => {
      expect(runBench(relay('quay', 1, [2]), relay('ridge', 2, [1, 3])).linked).toBe(true);
    });

    it('do not answer whom they do not list, nor a wrong passphrase, nor another channel', () => {
      expect(story(relay('quay', 1, [2]), relay('ridge', 2, []))).toContain('which is not in its list');
      expect(runBench(relay('quay', 1, [2]), relay('ridge', 2, [])).linked).toBe(false);
      const wrong = relay('ridge', 2, [1], { passphrase: 'abcd-efgh-jkmm' });
      expect(story(relay('quay', 1, [2]), wrong)).toContain('wrong passphrase');
      expect(runBench(relay('quay', 1, [2]), relay('ridge', 2, [1], { centreMHz: 5610 })).associated).toBe(false);
    });

    it('do not talk to stations', () => {
      expect(runBench(relay('quay', 1, [2]), radio('b', 'station')).associated).toBe(false);
    });
  });

  it('a licensed pair reads nothing when only one end corrects errors', () => {
    const narrow = { model: testModel({ band: 'licensed' }) };
    const common = { band: 'licensed' as const, widthMHz: 0.025 };
    const near = radio('a', 'ap', { ...common, txMHz: 440, rxMHz: 450, errorCorrection: true }, narrow);
    const far = (errorCorrection: boolean) =>
      radio('b', 'station', { ...common, txMHz: 450, rxMHz: 440, errorCorrection }, narrow);
    expect(runBench(near, far(true)).linked).toBe(true);
    expect(runBench(near, far(false)).associated).toBe(false);
  });
});
