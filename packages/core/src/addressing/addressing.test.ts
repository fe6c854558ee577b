import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { AddressError, addressText, addressValue, inSubnet, maskText, proposeAddresses, subnetRange } from '.';

const plan = {
  subnet: { address: '10.61.4.0', prefix: 24 },
  gateway: '10.61.4.1',
  dhcpFirst: '10.61.4.100',
  dhcpLast: '10.61.4.250',
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
    const tight = { ...plan, subnet: { address: '10.61.4.0', prefix: 30 }, dhcpFirst: null, dhcpLast: null, taken: [] };
    expect(() => proposeAddresses(tight, 2)).toThrow('Only 1 of 2');
    expect(() => proposeAddresses(tight, 2)).not.toThrow('DHCP');
  });

  it('uses both addresses of a /31 (RFC 3021) and the only one of a /32', () => {
    const tiny = { gateway: null, dhcpFirst: null, dhcpLast: null, taken: [] };
    expect(proposeAddresses({ ...tiny, subnet: { address: '10.61.4.6', prefix: 31 } }, 2)).toEqual([
      '10.61.4.6',
      '10.61.4.7',
    ]);
    expect(proposeAddresses({ ...tiny, subnet: { address: '10.61.4.6', prefix: 32 } }, 1)).toEqual(['10.61.4.6']);
    expect(() => proposeAddresses({ ...tiny, subnet: { address: '10.61.4.6', prefix: 32 } }, 2)).toThrow('Widen');
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
