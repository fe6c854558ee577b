import type { Sheet } from '@kivram/core';
import { describe, expect, it } from 'vitest';
import { settingText, sheetFields } from './sheetFields';

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

describe('the lines of both sheets', () => {
  it('show every setting of an unlicensed pair once', () => {
    const keys = sheetFields({ near: sheet(), far: sheet() }, []).flatMap((f) => f.keys);
    const all = Object.keys(sheet()).filter((k) => !['txMHz', 'rxMHz', 'errorCorrection', 'neighbours'].includes(k));
    expect([...keys].sort()).toEqual(all.sort());
  });

  it('show the frequency pair instead of channels where one end is licensed', () => {
    const keys = sheetFields({ near: sheet({ band: 'licensed' }), far: sheet() }, []).flatMap((f) => f.keys);
    expect(keys).toContain('txMHz');
    expect(keys).not.toContain('scanMHz');
  });

  it('ask relays, and only them, for their neighbours', () => {
    const keys = (role: Sheet['role']) =>
      sheetFields({ near: sheet({ role }), far: sheet() }, []).flatMap((f) => f.keys);
    expect(keys('relay')).toContain('neighbours');
    expect(keys('station')).not.toContain('neighbours');
  });

  it('tell what differs, lists by their contents', () => {
    const fields = sheetFields({ near: sheet(), far: sheet() }, []);
    const same = (label: string, a: Sheet, b: Sheet): boolean | undefined =>
      fields.find((f) => f.label === label)?.same(a, b);
    expect(same('Network name', sheet(), sheet({ networkName: 'Mole-light' }))).toBe(false);
    expect(same('Station listens on', sheet({ scanMHz: [5210] }), sheet({ scanMHz: [5210] }))).toBe(true);
    expect(same('Bridge mode', sheet(), sheet({ bridge: false }))).toBe(false);
    expect(same('Gateway', sheet(), sheet())).toBe(true);
  });

  it('call stored values by their names', () => {
    const fields = sheetFields({ near: sheet(), far: sheet() }, []);
    const labels = (label: string) => fields.find((f) => f.label === label)?.choices?.map((c) => c.label);
    expect(labels('Security')).toEqual(['open, for anyone in range', 'WPA2, passphrase', 'WPA3, passphrase']);
    expect(labels('Band')).toContain('5 GHz');
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
    const mask = sheetFields({ near: sheet(), far: sheet() }, []).find((f) => f.label === 'Mask');
    expect(mask?.choices).toContainEqual({ value: '24', label: '/24, 255.255.255.0' });
    expect(mask?.choices?.[0]?.value).toBe('8');
    expect(mask?.choices?.at(-1)?.value).toBe('30');
  });
});
