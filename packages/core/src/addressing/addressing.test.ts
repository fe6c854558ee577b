import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkNetwork, type NetworkPlan } from './network';
import { proposeAddresses } from './proposal';
import { AddressError, addressText, addressValue, inSubnet, maskText, subnetRange } from './subnet';
import { parseRanges, parseSubnet, rangesText } from './typed';

const plan = {
  subnet: {
    address: '10.61.4.0',
    prefix: 24,
    gateway: '10.61.4.1',
    dhcp: [{ first: '10.61.4.100', last: '10.61.4.250' }],
  },
  taken: ['10.61.4.254', '10.61.4.252'],
};

describe('addresses', () => {
  it('knows masks and ranges (RFC 4632)', () => {
    expect(maskText(24)).toBe('255.255.255.0');
    expect(maskText(26)).toBe('255.255.255.192');
    expect(subnetRange({ address: '192.168.1.70', prefix: 26 })).toEqual({
      first: addressValue('192.168.1.64'),
      last: addressValue('192.168.1.127'),
    });
    expect(inSubnet('10.61.5.1', plan.subnet)).toBe(false);
  });

  it('refuses what is no address, naming it', () => {
    for (const text of ['10.0.0', '10.0.0.256', '10.0.0.01x', ''])
      expect(() => addressValue(text)).toThrow(AddressError);
    expect(() => addressValue('10.0.0.256')).toThrow('"10.0.0.256"');
  });

  it('counts down from the top, or up from a base, past what is taken', () => {
    expect(proposeAddresses(plan, 2)).toEqual(['10.61.4.251', '10.61.4.253']);
    expect(proposeAddresses(plan, 3, { from: 'base', base: '10.61.4.98' })).toEqual([
      '10.61.4.98',
      '10.61.4.99',
      '10.61.4.251',
    ]);
  });

  it('says when the subnet is full', () => {
    const tight = { subnet: { ...plan.subnet, prefix: 30, dhcp: [] }, taken: [] };
    expect(() => proposeAddresses(tight, 2)).toThrow('Only 1 of 2');
    expect(() => proposeAddresses(tight, 2)).not.toThrow('DHCP');
  });

  it('uses both addresses of a /31 (RFC 3021) and the only one of a /32', () => {
    const tiny = (prefix: number) => ({ subnet: { address: '10.61.4.6', prefix, gateway: null, dhcp: [] }, taken: [] });
    expect(proposeAddresses(tiny(31), 2)).toEqual(['10.61.4.6', '10.61.4.7']);
    expect(proposeAddresses(tiny(32), 1)).toEqual(['10.61.4.6']);
    expect(() => proposeAddresses(tiny(32), 2)).toThrow('Widen');
  });

  it('never proposes an address that is taken, reserved, the gateway or in the DHCP range', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 254 }), { maxLength: 40 }),
        fc.integer({ min: 1, max: 6 }),
        (taken, count) => {
          const proposed = proposeAddresses({ ...plan, taken: taken.map((n) => `10.61.4.${n}`) }, count);
          expect(new Set(proposed).size).toBe(count);
          for (const address of proposed) {
            const last = addressValue(address) - addressValue('10.61.4.0');
            expect(taken).not.toContain(last);
            expect(last === 1 || last === 0 || last === 255 || (last >= 100 && last <= 250)).toBe(false);
            expect(addressText(addressValue(address))).toBe(address);
          }
        },
      ),
    );
  });
});

describe('a network as it is typed', () => {
  const site = {
    name: 'site',
    address: '10.61.4.0',
    prefix: 24,
    gateway: '10.61.4.1',
    dhcp: [{ first: '10.61.4.100', last: '10.61.4.199' }],
  };
  const cameras = { name: 'cameras', address: '10.61.5.0', prefix: 26, gateway: null, dhcp: [] };
  const recorder = { name: 'recorder', address: '10.61.4.20' };
  const told = (plan: Partial<NetworkPlan>) => checkNetwork({ subnets: [site, cameras], devices: [recorder], ...plan });

  it('is nothing to say of where everything fits', () => {
    expect(told({})).toEqual([]);
    expect(checkNetwork({ subnets: [], devices: [recorder] })).toEqual([]);
  });

  it.each<[string, Partial<NetworkPlan>, string]>([
    [
      'subnets that overlap',
      { subnets: [site, { ...cameras, address: '10.61.4.192' }] },
      '10.61.4.192/26 overlaps site',
    ],
    [
      'one subnet within another',
      { subnets: [site, { ...cameras, address: '10.61.0.0', prefix: 16 }] },
      'overlaps site',
    ],
    ['a router elsewhere', { subnets: [{ ...site, gateway: '10.61.9.1' }] }, 'have 10.61.4.1 to 10.61.4.254'],
    ["the subnet's own address as router", { subnets: [{ ...site, gateway: '10.61.4.0' }] }, 'is no device of'],
    [
      'a range that runs backwards',
      { subnets: [{ ...site, dhcp: [{ first: '10.61.4.9', last: '10.61.4.3' }] }] },
      'backwards',
    ],
    [
      'a range that leaves the subnet',
      { subnets: [{ ...site, dhcp: [{ first: '10.61.4.9', last: '10.61.5.3' }] }] },
      'does not lie within',
    ],
    [
      'two ranges over each other',
      { subnets: [{ ...site, dhcp: [...site.dhcp, { first: '10.61.4.150', last: '10.61.4.210' }] }] },
      '10.61.4.150 to 10.61.4.210 overlap',
    ],
    [
      'one address for two',
      { devices: [recorder, { name: 'camera', address: '10.61.4.20' }] },
      "is recorder's already: camera needs another",
    ],
  ])('cannot have %s', (_, plan, words) => {
    const [finding] = told(plan);
    expect(finding?.severity).toBe('forbids');
    expect(finding?.reason).toContain(words);
  });

  it('warns of devices that the router may displace, or that nobody reaches', () => {
    const [displaced, lost] = told({
      devices: [
        { name: 'camera', address: '10.61.4.150' },
        { name: 'printer', address: '192.168.7.9' },
      ],
    });
    expect(displaced).toMatchObject({ severity: 'warns', at: { list: 'devices', index: 0 } });
    expect(displaced?.reason).toContain('10.61.4.100 to 10.61.4.199');
    expect(lost).toMatchObject({ severity: 'warns', at: { index: 1 } });
  });

  it('leaves half of an address alone while it is typed', () => {
    expect(
      told({
        subnets: [
          { ...site, address: '10.61.' },
          { ...cameras, gateway: '10.6' },
        ],
        devices: [],
      }),
    ).toEqual([]);
    expect(told({ devices: [{ name: 'x', address: '10.61.4.' }] })).toEqual([]);
  });
});

describe('subnets and ranges as people write them', () => {
  it.each([
    ['10.20.0.0/24', 24],
    [' 10.20.0.0 / 24 ', 24],
    ['10.20.0.0 255.255.255.0', 24],
    ['10.20.0.0/255.255.255.192', 26],
    ['10.20.0.0/32', 32],
  ])('%s', (text, prefix) => {
    expect(parseSubnet(text)).toEqual({ address: '10.20.0.0', prefix });
  });

  it.each([
    ['10.20.0.0', 'like 10.20.0.0/24'],
    ['10.20.0.0/24/7', 'is no subnet'],
    ['10.20.0/24', '"10.20.0"'],
    ['10.20.0.0/7', '"/7" is no mask'],
    ['10.20.0.0/33', '"/33"'],
    ['10.20.0.0/255.0.255.0', 'ones before zeros'],
    ['', 'is no subnet'],
  ])('%j is refused, naming it', (text, words) => {
    expect(() => parseSubnet(text)).toThrow(AddressError);
    expect(() => parseSubnet(text)).toThrow(words);
  });

  it('reads ranges, whole and short, and writes them so that they read back', () => {
    const ranges = parseRanges('10.20.0.100 to 10.20.0.199; 10.20.1.5-9\n10.20.2.1 – 10.20.2.3');
    expect(ranges.map((r) => [r.first, r.last])).toEqual([
      ['10.20.0.100', '10.20.0.199'],
      ['10.20.1.5', '10.20.1.9'],
      ['10.20.2.1', '10.20.2.3'],
    ]);
    expect(parseRanges(rangesText(ranges))).toEqual(ranges);
    expect(parseRanges(' , ')).toEqual([]);
  });

  it.each(['10.20.0.100', '10.20.0.1 to', '10.20.0.1-300', '10.20.0.1-2-3', 'a to b'])('%j is no range', (text) => {
    expect(() => parseRanges(text)).toThrow(AddressError);
  });
});
