import { describe, expect, it } from 'vitest';
import { checkPair, willPair, type Pair, type PairingEnd, type Sheet } from '.';
import type { Model } from '../gear';
import { testLaw } from '../../test/law';
import { causes } from './causes';

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
const licensedModel: Model = {
  ...model,
  id: 'l',
  band: 'licensed',
  lowestMHz: 400,
  highestMHz: 470,
  widthsMHz: [0.025, 0.3],
};

const sheet = (role: Sheet['role'], changes: Partial<Sheet> = {}): Sheet => ({
  role,
  networkName: 'mole-light',
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
  address: role === 'ap' ? '10.61.4.12' : '10.61.4.13',
  prefix: 24,
  gateway: '10.61.4.1',
  deviceName: `mole ${role}`,
  firmware: '2.1',
  neighbours: [],
  errorCorrection: false,
  txMHz: null,
  rxMHz: null,
  ...changes,
});

const end = (role: Sheet['role'], changes: Partial<Sheet> = {}, more: Partial<PairingEnd> = {}): PairingEnd => ({
  sheet: sheet(role, changes),
  model,
  mac: role === 'ap' ? '02:00:00:00:00:01' : '02:00:00:00:00:02',
  otherStations: 0,
  ...more,
});
const pair = (
  near: Partial<Sheet>,
  far: Partial<Sheet>,
  nearEnd: Partial<PairingEnd> = {},
  farEnd: Partial<PairingEnd> = {},
): Pair => ({
  near: end('ap', near, nearEnd),
  far: end('station', far, farEnd),
  law: testLaw,
});
const licensed = (near: Partial<Sheet>, far: Partial<Sheet>): Pair => {
  const common = { band: 'licensed' as const, widthMHz: 0.025 };
  return pair(
    { ...common, txMHz: 440, rxMHz: 450, ...near },
    { ...common, txMHz: 450, rxMHz: 440, ...far },
    { model: licensedModel },
    { model: licensedModel },
  );
};
const relays = (near: Partial<Sheet>, far: Partial<Sheet>, farEnd: Partial<PairingEnd> = {}): Pair =>
  pair(
    { role: 'relay', neighbours: ['02:00:00:00:00:02'], ...near },
    { role: 'relay', neighbours: ['02-00-00-00-00-01'], ...far },
    {},
    farEnd,
  );
const causesOf = (p: Pair): string[] => checkPair(p).map((f) => f.cause);

describe('a sound pair', () => {
  it('pairs and is given no warning', () => {
    expect(checkPair(pair({}, {}))).toEqual([]);
    expect(willPair(pair({}, {}))).toBe(true);
    expect(checkPair(licensed({}, {}))).toEqual([]);
    expect(checkPair(relays({}, {}))).toEqual([]);
  });

  it('pairs whichever end is the access point', () => {
    expect(willPair({ ...pair({}, {}), near: end('station'), far: end('ap') })).toBe(true);
  });
});

describe('reasons why a pair will not pair', () => {
  it.each<[string, Pair, string]>([
    ['both access points', pair({}, { role: 'ap' }), 'bothAp'],
    ['both stations', pair({ role: 'station' }, {}), 'bothStation'],
    ['another name', pair({}, { networkName: 'home' }), 'networkName'],
    ['a space behind the name', pair({}, { networkName: 'mole-light ' }), 'networkName'],
    ['capitals in the name', pair({}, { networkName: 'Mole-Light' }), 'networkNameCase'],
    ['another security', pair({}, { security: 'wpa3-sae' }), 'securityKind'],
    ['another passphrase', pair({}, { passphrase: 'abcd-efgh-jkmn-pqrt' }), 'passphrase'],
    ['a passphrase in capitals', pair({}, { passphrase: 'ABCD-efgh-jkmn-pqrs' }), 'passphrase'],
    ['no passphrase at all', pair({ passphrase: null }, { passphrase: null }), 'passphrase'],
    ['another band', pair({}, { band: '2.4GHz' }), 'band'],
    ['a band the radio does not have', pair({ band: '60GHz' }, { band: '60GHz' }), 'bandOfModel'],
    ['no such channel', pair({ centreMHz: 5771 }, {}), 'channelOutOfReach'],
    ['a channel beyond the radio', pair({}, {}, {}, { model: { ...model, highestMHz: 5725 } }), 'channelOutOfReach'],
    ['a channel the far country forbids', pair({}, { country: 'XM' }), 'channelNotAllowed'],
    ['a channel missing from the list', pair({}, { scanMHz: [5210, 5290] }), 'channelNotScanned'],
    ['another width', pair({}, { widthMHz: 40 }), 'width'],
    [
      'a width the far radio cannot follow',
      pair({}, { followsWidth: true }, {}, { model: { ...model, widthsMHz: [20, 40] } }),
      'widthOfModel',
    ],
    ['another protocol', pair({}, { protocol: 'slots' }), 'protocol'],
    [
      'a protocol the radio does not have',
      pair({ protocol: 'slots' }, { protocol: 'slots' }, { model: { ...model, protocols: ['802.11'] } }),
      'protocolOfModel',
    ],
    ['a second station', pair({ ptpOnly: true }, { ptpOnly: true }, { otherStations: 1 }), 'ptpOnlySecondStation'],
    ['slots counted differently', pair({ protocol: 'slots', ptpOnly: true }, { protocol: 'slots' }), 'ptpOnlyDiffers'],
    ['a router at one end', pair({}, { bridge: false }), 'bridgeMode'],
    ['the same address', pair({}, { address: '10.61.4.12' }), 'sameAddress'],
    ['another subnet', pair({}, { address: '192.168.1.20' }), 'subnetDiffers'],
    ['the broadcast address', pair({}, { address: '10.61.4.255' }), 'addressUnusable'],
    ['frequencies not exchanged', licensed({}, { txMHz: 440, rxMHz: 450 }), 'frequencyPair'],
    ['one frequency for both ways', licensed({ rxMHz: 440 }, { txMHz: 440 }), 'frequencyPair'],
    ['a frequency missing', licensed({ txMHz: null }, {}), 'frequencyPair'],
    ['a frequency beyond the radio', licensed({ txMHz: 480 }, { rxMHz: 480 }), 'frequencyOutOfReach'],
    ['error correction at one end', licensed({ errorCorrection: true }, {}), 'errorCorrectionDiffers'],
    ['more power than the radio has', pair({}, { conductedDbm: 60 }), 'powerOfModel'],
    ['less power than the radio can', pair({ conductedDbm: -10 }, {}), 'powerOfModel'],
    ['a relay and a station', relays({}, { role: 'station' }), 'relayWithOther'],
    ['a relay that does not list the other', relays({ neighbours: [] }, {}), 'relayNeighbour'],
    ['a relay whose hardware address nobody knows', relays({}, {}, { mac: null }), 'relayNeighbour'],
    ['relays on two channels', relays({}, { centreMHz: 5610 }), 'relayChannel'],
  ])('%s', (_, bad, cause) => {
    expect(causesOf(bad)).toContain(cause);
    expect(willPair(bad)).toBe(false);
  });

  it('are all listed, blocking ones first', () => {
    const findings = checkPair(
      pair({ passphrase: '12345678' }, { role: 'ap', networkName: 'x', bridge: false, address: '10.61.4.12' }),
    );
    expect(findings.filter((f) => f.severity === 'blocks').map((f) => f.cause)).toEqual([
      'bothAp',
      'networkName',
      'passphrase',
      'bridgeMode',
      'sameAddress',
    ]);
    expect(findings.map((f) => f.severity)).toEqual([...findings.map((f) => f.severity)].sort());
  });

  it('each name the field, both values and the repair, and never the passphrase', () => {
    for (const finding of checkPair(pair({ passphrase: 'secret-one-1' }, { role: 'ap', passphrase: 'secret-two-2' }))) {
      expect(finding.repair.length).toBeGreaterThan(10);
      expect(finding.nearValue && finding.farValue).toBeTruthy();
      expect(finding.field in sheet('ap')).toBe(true);
      expect(JSON.stringify(finding)).not.toMatch(/secret-(one|two)/);
    }
  });
});

describe('what does not keep a pair from pairing', () => {
  it.each<[string, Pair, string[]]>([
    ['a station that follows the width', pair({}, { widthMHz: 20, followsWidth: true }), []],
    [
      'an open pair with odd passphrases',
      pair({ security: 'open' }, { security: 'open', passphrase: null }),
      ['weakPassphrase'],
    ],
    ['a weak passphrase', pair({ passphrase: '12345678' }, { passphrase: '12345678' }), ['weakPassphrase']],
    ['one device name for both', pair({ deviceName: 'a' }, { deviceName: 'a' }), ['sameDeviceName']],
    ['two firmware versions', pair({}, { firmware: '2.2' }), ['firmwareDiffers']],
    ['a gateway elsewhere', pair({ gateway: '10.62.0.1' }, {}), ['gatewayOutside']],
    ['masks that still reach each other', pair({}, { prefix: 16 }), ['maskDiffers']],
    [
      'two countries that both allow the channel',
      pair({ centreMHz: 5530 }, { centreMHz: 5530, country: 'XM' }),
      ['countryDiffers', 'radarChannel'],
    ],
    ['a channel of radars', pair({ centreMHz: 5530 }, { centreMHz: 5530 }), ['radarChannel']],
    ['more power than the law allows', pair({ conductedDbm: 21 }, {}), ['powerOverLaw']],
    ['just what the law allows: 20 + 16 = 36 dBm', pair({ conductedDbm: 20 }, {}), []],
    ['other stations on an open hub', pair({}, {}, { otherStations: 4 }), []],
  ])('%s', (_, fine, warnings) => {
    expect(causesOf(fine)).toEqual(warnings);
    expect(willPair(fine)).toBe(true);
  });
});

describe('the list of causes', () => {
  it('names each once', () => {
    expect(new Set(causes.map((c) => c.cause)).size).toBe(causes.length);
  });
});
