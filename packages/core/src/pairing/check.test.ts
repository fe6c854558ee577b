import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkBench, checkPair, willPair } from './check';
import type { Pair, PairingEnd } from './pair';
import type { Sheet } from './sheet';
import type { SheetPlan, Site } from './site';
import type { Model } from '../gear/model';
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
    ['no passphrase at all', pair({ passphrase: null }, { passphrase: null }), 'passphraseAbsent'],
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
    ['half an address', pair({}, { address: '10.61.4.' }), 'addressMalformed'],
    ['no address', pair({ address: '' }, {}), 'addressMalformed'],
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
    ['other stations on an open hub', pair({}, {}, { otherStations: 4 }), []],
  ])('%s', (_, fine, warnings) => {
    expect(causesOf(fine)).toEqual(warnings);
    expect(willPair(fine)).toBe(true);
  });
});

describe('where the radios are going to stand', () => {
  const site: Site = {
    subnets: [
      {
        address: '10.61.4.0',
        prefix: 24,
        gateway: '10.61.4.1',
        dhcp: [{ first: '10.61.4.100', last: '10.61.4.199' }],
      },
      { address: '10.61.8.0', prefix: 26, gateway: null, dhcp: [{ first: '10.61.8.40', last: '10.61.8.50' }] },
    ],
    taken: [
      { address: '10.61.4.1', name: 'the router' },
      { address: '10.61.4.20', name: 'the camera recorder' },
      { address: '10.61.4.31', name: 'the radio at Net loft' },
    ],
  };
  const plan: SheetPlan = {
    air: { kind: 'pair', centreMHz: 5775, returnMHz: null, widthMHz: 80, protocol: '802.11', errorCorrection: false },
    country: 'XT',
    licence: null,
    day: '2026-06-15',
    outdoor: true,
    near: { role: 'access', conductedDbm: 20, cableLossDb: 0, cable: null },
    far: { role: 'station', conductedDbm: 20, cableLossDb: 0, cable: null },
  };
  const at = (far: Partial<Sheet>, near: Partial<Sheet> = {}, changes: Partial<SheetPlan> = {}) =>
    checkBench(pair(near, far), site, { ...plan, ...changes });

  it('is nothing to say of a sound pair', () => {
    expect(at({})).toEqual([]);
    expect(checkBench(pair({}, {}), { subnets: [], taken: [] }, plan)).toEqual([]);
  });

  it.each<[string, Partial<Sheet>, string, string]>([
    ["the router's address", { address: '10.61.4.1' }, 'addressOfRouter', "is the router's own address"],
    ["the recorder's address", { address: '10.61.4.20' }, 'addressTaken', 'is taken by the camera recorder'],
    ["another radio's address", { address: '10.61.4.31' }, 'addressTaken', 'is taken by the radio at Net loft'],
    ['an address in the DHCP range', { address: '10.61.4.150' }, 'addressOfDhcp', 'lies in the DHCP range'],
    ['one in that of another subnet', { address: '10.61.8.44' }, 'addressOfDhcp', '10.61.8.40 to 10.61.8.50'],
    ['a multicast address', { address: '224.0.0.5' }, 'addressOfNobody', 'multicast'],
    ['a loopback address', { address: '127.0.0.1' }, 'addressOfNobody', 'loopback'],
    ['no address at all', { address: '0.0.0.0' }, 'addressOfNobody', 'belongs to nobody'],
    ['the broadcast to all', { address: '255.255.255.255' }, 'addressOfNobody', 'broadcast'],
    ['a link-local address', { address: '169.254.7.7' }, 'addressOfNobody', 'nobody has given it'],
    ['a reserved address', { address: '240.1.1.1' }, 'addressOfNobody', 'reserved'],
    ['the country next door', { country: 'XM' }, 'countryOfJob', 'the job is in XT'],
    ['power over the law', { conductedDbm: 21 }, 'powerOverLaw', '37.0 dBm EIRP, 1.0 dB more than XT allows'],
  ])('%s must not go up', (_, far, cause, words) => {
    const finding = at(far).find((f) => f.cause === cause);
    expect(finding?.severity).toBe('forbids');
    expect(finding?.reason).toContain(words);
  });

  it.each<[string, Partial<Sheet>, string]>([
    ['an address outside the site', { address: '192.168.7.9' }, 'addressOutsideSite'],
    ["a mask that is not the site's", { prefix: 16 }, 'maskOfSite'],
    ['the mask of another subnet', { address: '10.61.8.9', prefix: 24 }, 'maskOfSite'],
    ['more power than planned', { conductedDbm: 20.5 }, 'powerOfPlan'],
    ['another width than planned', { widthMHz: 40 }, 'widthOfPlan'],
    ['another protocol than planned', { protocol: 'slots' }, 'protocolOfPlan'],
    ['another role than planned', { role: 'ap' }, 'roleOfPlan'],
  ])('%s is told', (_, far, cause) => {
    expect(at(far).find((f) => f.cause === cause)?.severity).toBe('warns');
  });

  it("tells another channel than the plan's at the end that sets it, and frequencies of a licensed pair at both", () => {
    expect(at({}, { centreMHz: 5530 }).map((f) => f.cause)).toContain('channelOfPlan');
    expect(at({ centreMHz: 5530 }).map((f) => f.cause)).not.toContain('channelOfPlan');
    const air = { ...plan.air, kind: 'duplex' as const, centreMHz: 440, returnMHz: 450, widthMHz: 0.025 };
    const found = (far: Partial<Sheet>) =>
      checkBench(licensed({}, far), { subnets: [], taken: [] }, { ...plan, air }).map((f) => f.cause);
    expect(found({})).not.toContain('channelOfPlan');
    expect(found({ txMHz: 451 })).toContain('channelOfPlan');
  });

  it('counts the cable before it says that the law is broken: 21 + 16 - 1 = 36 dBm is allowed', () => {
    const cabled = { far: { role: 'station' as const, conductedDbm: 21, cableLossDb: 1, cable: null } };
    expect(at({ conductedDbm: 21 }, {}, cabled)).toEqual([]);
  });

  it('forbids a channel that the law does: indoors only outdoors, another off the plan, and none of a country that nobody knows', () => {
    const indoor = { lowestMHz: 5150, highestMHz: 5250, mostEirpDbm: 23, radar: false, indoor: true };
    const law = testLaw.map((set) => ({ ...set, rules: [...set.rules.filter((r) => r.lowestMHz !== 5150), indoor] }));
    const on = (centreMHz: number, outdoor: boolean, rules = law) => {
      const both = { ...pair({ centreMHz }, {}), law: rules };
      const findings = checkBench(both, site, { ...plan, outdoor, air: { ...plan.air, centreMHz } });
      return findings.filter((f) => f.severity === 'forbids').map((f) => `${f.cause}: ${f.reason}`);
    };
    expect(on(5210, true)).toEqual([
      'channelOverLaw: Nobody may send here: 5150 to 5250 MHz is for indoors only in Testland.',
    ]);
    expect(on(5210, false)).toEqual([]);
    // Off the plan it is no better.
    expect(at({}, { centreMHz: 5210 }).map((f) => f.severity)).not.toContain('forbids');
    expect(checkBench({ ...pair({ centreMHz: 5210 }, {}), law }, site, plan).map((f) => f.cause)).toContain(
      'channelOverLaw',
    );
    expect(on(5210, true, [])).toEqual([]);
  });

  it('shows the value at the end that is wrong, and only there', () => {
    const finding = at({ address: '10.61.4.20' }).find((f) => f.cause === 'addressTaken');
    expect(finding).toMatchObject({ nearValue: '', farValue: '10.61.4.20' });
  });

  it('calls values by their words', () => {
    expect(at({ role: 'ap' }).find((f) => f.cause === 'roleOfPlan')?.farValue).toBe('access point');
    expect(at({ protocol: 'slots' }).find((f) => f.cause === 'protocolOfPlan')?.farValue).toBe('time slots');
    expect(at({ conductedDbm: 21 }).find((f) => f.cause === 'powerOverLaw')?.farValue).toBe('21 dBm');
  });

  it('throws at nothing that can be typed, and never says yes to it', () => {
    const typed = fc.oneof(
      fc.string(),
      fc.constantFrom('', '10.', '10.61.4', '1e9', '999.1.1.1', '::1', '10.61.4.12 '),
    );
    const number = fc.oneof(fc.double(), fc.constantFrom(null as unknown as number, NaN, -1, 0, 1e12));
    const change = fc.record(
      {
        address: typed,
        gateway: fc.oneof(typed, fc.constant(null)),
        networkName: typed,
        passphrase: fc.oneof(typed, fc.constant(null)),
        country: typed,
        deviceName: typed,
        firmware: typed,
        centreMHz: number,
        widthMHz: number,
        conductedDbm: number,
        txMHz: number,
        rxMHz: number,
        prefix: fc.integer({ min: 8, max: 32 }),
        scanMHz: fc.array(number),
        neighbours: fc.array(typed),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(change, change, fc.boolean(), (near, far, isLicensed) => {
        const both = isLicensed ? licensed(near, far) : pair(near, far);
        expect(Array.isArray(checkBench(both, site, plan))).toBe(true);
      }),
      { numRuns: 1000 },
    );
    for (const address of ['', '10.', '10.61.4', '999.1.1.1'])
      expect(at({ address }).some((f) => f.severity !== 'warns')).toBe(true);
  });
});

describe('the list of causes', () => {
  it('names each once', () => {
    expect(new Set(causes.map((c) => c.cause)).size).toBe(causes.length);
  });
});
