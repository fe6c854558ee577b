import type { Sheet } from '@kivram/core/pairing/sheet';
import { describe, expect, it } from 'vitest';
import { changesOf } from './Review';
import { ruleBroken, settingText, sheetFields, type Field } from './sheetFields';

const sheet = (changes: Partial<Sheet> = {}): Sheet => ({
  role: 'ap',
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
  address: '10.61.4.12',
  prefix: 24,
  gateway: null,
  deviceName: 'mole',
  firmware: '2.1',
  neighbours: [],
  errorCorrection: false,
  txMHz: null,
  rxMHz: null,
  ...changes,
});

const model = { band: '5GHz', protocols: ['802.11'], id: 'm' };
const view = (changes: object = {}) =>
  ({ laws: [], near: { model: { ...model, ...changes } }, far: { model } }) as unknown as Parameters<
    typeof sheetFields
  >[1];
const fieldsOf = (near: Partial<Sheet> = {}, far: Partial<Sheet> = {}) =>
  sheetFields({ near: sheet(near), far: sheet(far) }, view(), []);
const find = (fields: Field[], key: keyof Sheet): Field => {
  const found = fields.find((f) => f.key === key);
  if (!found) throw new Error(`no line for ${key}`);
  return found;
};

describe('the lines of both sheets', () => {
  it('show every setting of an unlicensed pair once', () => {
    const keys = fieldsOf().map((f) => f.key);
    const all = Object.keys(sheet()).filter((k) => !['txMHz', 'rxMHz', 'errorCorrection', 'neighbours'].includes(k));
    expect([...keys].sort()).toEqual(all.sort());
  });

  it('show the frequency pair instead of channels where one end is licensed', () => {
    const keys = fieldsOf({ band: 'licensed' }).map((f) => f.key);
    expect(keys).toContain('txMHz');
    expect(keys).not.toContain('scanMHz');
  });

  it('ask relays, and only them, for their neighbours', () => {
    const keys = (role: Sheet['role']) => fieldsOf({ role }).map((f) => f.key);
    expect(keys('relay')).toContain('neighbours');
    expect(keys('station')).not.toContain('neighbours');
  });

  it.each<[string, keyof Sheet, Partial<Sheet>, Partial<Sheet>, boolean]>([
    ['both access points', 'role', {}, {}, true],
    ['one of each', 'role', {}, { role: 'station' }, false],
    ['two relays', 'role', { role: 'relay' }, { role: 'relay' }, false],
    ['names apart by a capital', 'networkName', {}, { networkName: 'Mole-light' }, true],
    ['one passphrase', 'passphrase', {}, {}, false],
    [
      'no passphrases where the network is open',
      'passphrase',
      { security: 'open', passphrase: null },
      { security: 'open' },
      false,
    ],
    ['one address for both', 'address', {}, {}, true],
    ['two addresses', 'address', {}, { address: '10.61.4.13' }, false],
    ['widths apart', 'widthMHz', {}, { widthMHz: 40 }, true],
    ['a station that follows the width', 'widthMHz', {}, { role: 'station', widthMHz: 40, followsWidth: true }, false],
    ['frequencies exchanged', 'txMHz', { band: 'licensed', txMHz: 440, rxMHz: 450 }, { txMHz: 450, rxMHz: 440 }, false],
    ['frequencies alike', 'txMHz', { band: 'licensed', txMHz: 440, rxMHz: 450 }, { txMHz: 440, rxMHz: 450 }, true],
    ['powers apart', 'conductedDbm', {}, { conductedDbm: 9 }, false],
    ['lists apart', 'scanMHz', {}, { scanMHz: [5210] }, false],
  ])('tell which rule is broken: %s', (_, key, near, far, broken) => {
    expect(ruleBroken(find(fieldsOf(near, far), key), { near: sheet(near), far: sheet(far) })).toBe(broken);
  });

  it('say which must match, which must differ and which are free', () => {
    const fields = fieldsOf();
    const by = (rule: Field['rule']) => fields.filter((f) => f.rule === rule).map((f) => f.key);
    expect(by('differ')).toEqual(['role', 'address', 'deviceName']);
    expect(by(undefined)).toEqual(['centreMHz', 'scanMHz', 'followsWidth', 'ptpOnly', 'conductedDbm']);
    expect(by('match')).toContain('bridge');
  });

  it('offer a radio only what it has, and what it is set to already', () => {
    const offered = (near: Partial<Sheet>, changes: object) =>
      find(sheetFields({ near: sheet(near), far: sheet() }, view(changes), []), 'protocol').choices?.near.map(
        (c) => c.value,
      );
    expect(offered({}, {})).toEqual(['802.11']);
    expect(offered({}, { protocols: ['802.11', 'slots'] })).toEqual(['802.11', 'slots']);
    expect(offered({ protocol: 'slots' }, {})).toEqual(['802.11', 'slots']);
  });

  it('call stored values by their names', () => {
    const labels = (key: keyof Sheet) => find(fieldsOf(), key).choices?.near.map((c) => c.label);
    expect(labels('security')).toEqual(['open, for anyone in range', 'WPA2, passphrase', 'WPA3, passphrase']);
    expect(labels('band')).toEqual(['5 GHz']);
  });

  it('tell a value in words, whatever it is', () => {
    expect(settingText('protocol', 'slots')).toBe('time slots');
    expect(settingText('role', 'ap')).toBe('access point');
    expect(settingText('networkName', 'ap')).toBe('ap');
    expect(settingText('scanMHz', [])).toBe('all');
    expect(settingText('bridge', false)).toBe('off');
    expect(settingText('gateway', null)).toBe('none');
  });

  it('name masks the way routers do', () => {
    const masks = find(fieldsOf(), 'prefix').choices?.near ?? [];
    expect(masks).toContainEqual({ value: '24', label: '/24, 255.255.255.0' });
    expect(masks[0]?.value).toBe('8');
    expect(masks.at(-1)?.value).toBe('32');
  });
});

describe('what a save would change', () => {
  it('is told by its words, and never tells a passphrase', () => {
    const changes = changesOf(
      sheet(),
      sheet({ passphrase: 'other-words-42', protocol: 'slots', gateway: '10.61.4.1' }),
    );
    expect(changes).toEqual([
      { key: 'passphrase', from: 'the one set now', to: 'another one' },
      { key: 'protocol', from: '802.11', to: 'time slots' },
      { key: 'gateway', from: 'none', to: '10.61.4.1' },
    ]);
  });
});
