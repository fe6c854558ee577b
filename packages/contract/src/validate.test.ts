import { describe, expect, it } from 'vitest';
import { NewLinkBody } from './requests/newLink';
import { NewPlaceBody } from './requests/place';
import { LinkPlanBody } from './requests/plan';
import { HandTestBody } from './requests/test';
import { MarkBody, MountBody, NewAlignmentBody, TurnBody } from './requests/work';
import { SaveSheetsBody, SheetBody } from './sheet';
import { check } from './validate';

const id = '3f0a2c1e-5b7d-4e8f-9a6b-1c2d3e4f5a6b';
const messages = (type: Parameters<typeof check>[0], plain: unknown): string[] =>
  (check(type, plain).errors ?? []).map((e) => `${e.field}: ${e.message}`);

const end = {
  place: { name: 'Mole head', latitudeDeg: 33.4, longitudeDeg: -37.8, groundHeightM: 3 },
  modelId: 'brinmoor-pane-16',
  mountHeightM: 6,
  conductedDbm: 10,
};
const link = {
  name: 'Lamp house',
  near: end,
  far: { ...end, place: undefined, placeId: id },
  centreMHz: 5775,
  widthMHz: 80,
  protocol: '802.11',
  needNearToFarMbps: 50,
  needFarToNearMbps: 20,
};
const sheet = {
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
  deviceName: 'mole-ap',
  firmware: '2.1',
  neighbours: [],
  errorCorrection: false,
  txMHz: null,
  rxMHz: null,
};

describe('what crosses the wire', () => {
  it('is taken when it is right, with its nested classes made', () => {
    const { value, errors } = check(NewLinkBody, link);
    expect(errors).toBeUndefined();
    expect(value?.near.place?.latitudeDeg).toBe(33.4);
    expect(value?.far.placeId).toBe(id);
    expect(messages(SheetBody, sheet)).toEqual([]);
    expect(messages(SaveSheetsBody, { near: sheet, far: sheet, nearRevision: 0, farRevision: 2 })).toEqual([]);
  });

  it.each([null, undefined, 'text', 7, [link]])('is refused when it is no object: %s', (plain) => {
    expect(messages(NewLinkBody, plain)).toEqual([': the body must be a JSON object']);
  });

  it('names unknown fields, at any depth', () => {
    expect(messages(NewLinkBody, { ...link, colour: 'red' })).toEqual([
      'colour: colour is not known here; leave it out',
    ]);
    expect(messages(NewLinkBody, { ...link, near: { ...end, hat: 1 } })).toEqual([
      'near.hat: hat is not known here; leave it out',
    ]);
  });

  it('does not let a body reach the prototype', () => {
    const body = JSON.parse(`{"__proto__": {"polluted": true}, "end": "near", "axis": "tilt", "byDeg": 1}`);
    check(TurnBody, body);
    expect(({} as Record<string, unknown>).polluted).toBeUndefined();
  });

  it.each([
    ['name', '', 'name must be text of 1 to 60'],
    ['groundHeightM', 99_999, 'from −430 to 9000 m above sea level'],
  ])('refuses a place of %s = %s and says why', (field, value, words) => {
    const place = { name: 'Mole', latitudeDeg: 33, longitudeDeg: -37, [field]: value };
    expect(messages(NewPlaceBody, place).join()).toContain(words);
  });

  it.each([
    ['name', '', 'name must be text of 1 to 80'],
    ['centreMHz', 'five', 'channel is five'],
    ['widthMHz', 3000, 'width is 3000: it must be a number from 0.00625 to 2160 MHz'],
    ['protocol', 'smoke', 'one of 802.11; time slots'],
    ['needNearToFarMbps', -1, 'need near to far is −1'],
    ['needNearToFarMbps', NaN, 'need near to far is no number'],
    ['needNearToFarMbps', Infinity, 'need near to far is no number'],
    ['crewMemberId', id, 'crewMemberId is not known here'],
  ])('refuses %s = %s and says why', (field, value, words) => {
    expect(messages(NewLinkBody, { ...link, [field]: value }).join()).toContain(words);
  });

  it('needs a channel for an air of its own, and none where an end joins the air of a radio', () => {
    const joining = { ...link, near: { radioId: id }, centreMHz: undefined, widthMHz: undefined, protocol: undefined };
    expect(messages(NewLinkBody, joining)).toEqual([]);
    expect(messages(NewLinkBody, { ...link, centreMHz: undefined }).join()).toContain('centreMHz');
  });

  it('needs a place for each end, known or new', () => {
    expect(messages(NewLinkBody, { ...link, near: { ...end, place: undefined } }).join()).toContain('near.placeId');
  });

  it.each([
    [-2, 'mount height is −2: it must be a number from 0 to 300 m above ground'],
    [301, 'from 0 to 300 m above ground'],
    [NaN, 'mount height is no number'],
  ])('refuses an antenna that hangs at %s m', (mountHeightM, words) => {
    expect(messages(LinkPlanBody, { version: 1, near: { version: 0, mountHeightM } }).join()).toContain(words);
  });

  it('takes a plan in part, but not half a number', () => {
    expect(messages(LinkPlanBody, { version: 1 })).toEqual([]);
    expect(messages(LinkPlanBody, { version: 1.5 }).join()).toContain('version');
    expect(messages(LinkPlanBody, { version: 1, near: { version: 0, cableLossDb: 40 } }).join()).toContain(
      '0 to 30 dB',
    );
  });
});

describe('settings sheets', () => {
  it.each([
    [{ networkName: '' }, '1 to 32 bytes'],
    [{ networkName: 'ø'.repeat(17) }, '1 to 32 bytes'],
    [{ passphrase: 'seven77' }, '8 to 63'],
    [{ passphrase: 'x'.repeat(64) }, '8 to 63'],
    [{ passphrase: 'naïve-words' }, 'without accents'],
    [{ passphrase: null }, '8 to 63'],
    [{ address: '10.61.4' }, 'four numbers'],
    [{ address: 'fe80::1' }, 'four numbers'],
    [{ prefix: 33 }, '8 to 32'],
    [{ country: 'xt' }, 'two capital letters'],
    [{ scanMHz: ['5500'] }, 'scanMHz'],
    [{ scanMHz: Array.from({ length: 61 }, () => 5500) }, 'scanMHz'],
    [{ role: 'both' }, 'access point; station'],
    [{ bridge: 'yes' }, 'bridge'],
    [{ neighbours: ['the one on the ridge'] }, 'hardware addresses like'],
  ])('refuse %j', (change, words) => {
    expect(messages(SheetBody, { ...sheet, ...change }).join()).toContain(words);
  });

  it('take 32 bytes of name, 63 of passphrase, and an open network without any', () => {
    expect(messages(SheetBody, { ...sheet, networkName: 'ø'.repeat(16), passphrase: 'x'.repeat(63) })).toEqual([]);
    expect(messages(SheetBody, { ...sheet, security: 'open', passphrase: null })).toEqual([]);
  });

  it('never repeat a passphrase in a message', () => {
    expect(messages(SheetBody, { ...sheet, passphrase: 'geheim' }).join()).not.toContain('geheim');
  });
});

describe('smaller bodies', () => {
  it('a mark needs its direction when it turns, and only then', () => {
    expect(messages(MarkBody, { id, end: 'near', kind: 'locked' })).toEqual([]);
    expect(messages(MarkBody, { id, end: 'near', kind: 'notch', direction: -1 })).toEqual([]);
    expect(messages(MarkBody, { id, end: 'near', kind: 'notch' })).toEqual(['direction: direction must be −1, 0 or 1']);
    expect(messages(MarkBody, { id, end: 'near', kind: 'turning', direction: 2 })).toHaveLength(1);
  });

  it('nobody mounts without having read the cautions', () => {
    expect(messages(MountBody, { end: 'near', mounted: true, cautionsRead: false })).toEqual([
      'cautionsRead: read the cautions first, then confirm them',
    ]);
  });

  it('a speed without its unit is no speed', () => {
    const test = { direction: 'nearToFar', value: 80, note: '' };
    expect(messages(HandTestBody, test).join()).toContain('Mbit/s');
    expect(messages(HandTestBody, { ...test, unit: 'mbps' }).join()).toContain('"mbps"');
    expect(messages(HandTestBody, { ...test, unit: 'MByte/s' })).toEqual([]);
    for (const value of [0, -3])
      expect(messages(HandTestBody, { ...test, unit: 'MByte/s', value }).join()).toContain('from 0.001 to 100000');
  });

  it('hands turn a little at a time', () => {
    expect(messages(TurnBody, { end: 'near', axis: 'tilt', byDeg: 21 })).toHaveLength(1);
    expect(
      messages(NewAlignmentBody, {
        nearSource: 'phone',
        farSource: 'sextant',
        order: 'endByEnd',
      }).join(),
    ).toContain('sextant');
  });
});
