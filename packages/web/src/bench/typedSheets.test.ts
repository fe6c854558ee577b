import { SaveSheetsBody } from '@kivram/contract/sheet';
import { check } from '@kivram/contract/validate';
import { checkBench } from '@kivram/core/pairing/check';
import type { Sheet } from '@kivram/core/pairing/sheet';
import type { SheetPlan, Site } from '@kivram/core/pairing/site';
import type { Model } from '@kivram/core/gear/model';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import { parseNumber } from '@kivram/core/units/number';
import { describe, expect, it } from 'vitest';

// What a person may type into a sheet, and the sentence that it must lead to: what the screen of the bench shows, without the screen.

const model: Model = {
  id: 'm',
  maker: 'Test',
  name: 'Test 16',
  band: '5GHz',
  lowestMHz: 5150,
  highestMHz: 5850,
  phy: 'VHT',
  streams: 2,
  protocols: ['802.11', 'slots'],
  widthsMHz: [20, 40, 80],
  leastConductedDbm: 0,
  mostConductedDbm: 24,
  antennaGainDbi: 16,
  beamWidth: { azimuthDeg: 30, elevationDeg: 30 },
  noiseFigureDb: 6,
  sensitivities: [],
  overloadDbm: -25,
  ethernetMbps: 1000,
  poe: 'passive24',
  hasPtpOnly: true,
};
const law: RuleSet[] = [
  {
    country: 'XT',
    name: 'Testland',
    validFrom: '2026-01-01',
    rules: [{ lowestMHz: 5725, highestMHz: 5850, mostEirpDbm: 36, radar: false }],
  },
];
const sheet = (role: Sheet['role'], address: string): Sheet => ({
  role,
  networkName: 'tessary-gauge-hut',
  security: 'wpa2-psk',
  passphrase: 'abcd-efgh-jkmn-pqrs',
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
  address,
  prefix: 24,
  gateway: null,
  deviceName: `hut ${role}`,
  firmware: '2.1',
  neighbours: [],
  errorCorrection: false,
  txMHz: null,
  rxMHz: null,
});
const [near, far] = [sheet('ap', '10.61.4.12'), sheet('station', '10.61.4.13')];
const site: Site = {
  subnets: [
    {
      address: '10.61.4.0',
      prefix: 24,
      gateway: '10.61.4.1',
      dhcp: [{ first: '10.61.4.100', last: '10.61.4.199' }],
    },
  ],
  taken: [{ address: '10.61.4.20', name: 'camera recorder' }],
};
const plan: SheetPlan = {
  air: { kind: 'pair', centreMHz: 5775, returnMHz: null, widthMHz: 80, protocol: '802.11', errorCorrection: false },
  country: 'XT',
  licence: null,
  day: '2026-06-15',
  outdoor: true,
  near: { role: 'access', conductedDbm: 4, cable: null, cableLossDb: 0 },
  far: { role: 'station', conductedDbm: 4, cable: null, cableLossDb: 0 },
};

/** What is said where somebody has typed this at the near end. */
function saidOf(typed: Partial<Record<keyof Sheet, unknown>>): string {
  const sheets = { near: { ...near, ...typed }, far, nearRevision: 0, farRevision: 0 };
  const { errors = [] } = check(SaveSheetsBody, sheets);
  if (errors.length) return errors.map(({ message }) => message).join(' ');
  const end = (settings: Sheet) => ({ sheet: settings, model, mac: null, otherStations: 0 });
  const pair = { near: end(sheets.near as Sheet), far: end(far), law };
  return checkBench(pair, site, plan)
    .map(({ reason, repair }) => `${reason} ${repair}`)
    .join(' ');
}

describe('what is typed into a sheet', () => {
  it('that is sound leads to no sentence', () => {
    expect(saidOf({})).toBe('');
  });

  const fourNumbers = 'four numbers from 0 to 255';
  it.each<[keyof Sheet, unknown, string | RegExp]>([
    ['address', '10.61.4.', fourNumbers],
    ['address', '', fourNumbers],
    ['address', '10.61.4.256', fourNumbers],
    ['address', 'fe80::1', fourNumbers],
    ['address', 'the router', fourNumbers],
    ['address', '10.61.4.1', "10.61.4.1 is the router's own address"],
    ['address', '10.61.4.20', '10.61.4.20 is taken by camera recorder'],
    ['address', '10.61.4.150', '10.61.4.150 lies in the DHCP range'],
    ['address', '224.0.0.5', '224.0.0.5 is a multicast address'],
    ['address', '127.0.0.1', '127.0.0.1 is a loopback address'],
    ['address', '0.0.0.0', '0.0.0.0 belongs to nobody'],
    ['address', '255.255.255.255', 'is the broadcast address of every network'],
    ['address', '169.254.1.1', 'nobody has given it an address'],
    ['address', '192.168.7.7', "lies outside the site's subnet 10.61.4.0/24"],
    ['address', '10.61.4.255', 'reserved and cannot belong to a radio'],
    ['gateway', '10.61', fourNumbers],
    ['gateway', '10.62.0.1', 'A gateway lies outside its own subnet'],
    ['networkName', '', '1 to 32 bytes'],
    ['networkName', 'x'.repeat(33), '1 to 32 bytes'],
    ['networkName', 'ø'.repeat(17), 'accents count double'],
    ['networkName', 'somewhere-else', 'The network names differ'],
    ['passphrase', '', '8 to 63 plain characters'],
    ['passphrase', 'lösungswort', 'without accents'],
    ['passphrase', 'another-one-42', /passphrases? (differ|are)/],
    ['conductedDbm', 60, 'a power that it cannot be set to'],
    ['conductedDbm', -99, /from [−-]20 to 60 dBm/],
    ['conductedDbm', null, 'power is missing'],
    ['centreMHz', 5771, 'no 80 MHz channel centred on 5771 MHz'],
    ['centreMHz', null, 'channel is missing'],
    ['widthMHz', 40, 'The channel widths differ'],
    ['widthMHz', null, 'width is missing'],
    ['deviceName', '', 'device name must be text of 1 to 63'],
    ['firmware', 'x'.repeat(41), 'firmware must be text of 0 to 40'],
    ['firmware', '9.9', 'The firmware versions differ'],
  ])('%s = %j', (field, typed, sentence) => {
    expect(saidOf({ [field]: typed })).toMatch(sentence);
  });

  it('is kept as text where it is no number, so that the sentence can name it', () => {
    for (const text of ['1e9', 'full']) expect(() => parseNumber(text)).toThrow(`"${text}" is no number`);
  });
});
