import ipaddr from 'ipaddr.js';

/** An IPv4 subnet: any address in it and its prefix length. */
export interface Subnet {
  address: string;
  prefix: number;
}

/** An address plan error; the message names the value and the repair. */
export class AddressError extends Error {
  override name = 'AddressError';
}

/** Whether a text is a dotted IPv4 address. Half of one, as it is being typed, is none. */
export function isAddress(text: string): boolean {
  return ipaddr.IPv4.isValidFourPartDecimal(text);
}

/** What an address is for: "unicast", "private", "multicast", "loopback", "reserved" and so on, after the IANA registry. @throws AddressError */
export function addressKind(address: string): ReturnType<ipaddr.IPv4['range']> {
  addressValue(address);
  return ipaddr.IPv4.parse(address).range();
}

/** The 32-bit value of a dotted IPv4 address. @throws AddressError */
export function addressValue(address: string): number {
  if (!isAddress(address)) {
    throw new AddressError(`"${address}" is no IPv4 address. Write four numbers from 0 to 255, like 10.20.0.7.`);
  }
  return ipaddr.IPv4.parse(address).octets.reduce((value, octet) => value * 256 + octet, 0);
}

export function addressText(value: number): string {
  return [24, 16, 8, 0].map((shift) => Math.floor(value / 2 ** shift) % 256).join('.');
}

/** First and last address of a subnet (network and broadcast address, RFC 4632). */
export function subnetRange({ address, prefix }: Subnet): { first: number; last: number } {
  const size = 2 ** (32 - prefix);
  const first = Math.floor(addressValue(address) / size) * size;
  return { first, last: first + size - 1 };
}

/**
 * First and last address that a device may have: without the network's own and the broadcast address, but both of a /31 (RFC 3021) and the one of
 * a /32.
 */
export function hostRange(subnet: Subnet): { first: number; last: number } {
  const { first, last } = subnetRange(subnet);
  return subnet.prefix >= 31 ? { first, last } : { first: first + 1, last: last - 1 };
}

export function inSubnet(address: string, subnet: Subnet): boolean {
  const { first, last } = subnetRange(subnet);
  const value = addressValue(address);
  return value >= first && value <= last;
}

/** Dotted mask of a prefix length: 24 is 255.255.255.0. */
export function maskText(prefix: number): string {
  return addressText(2 ** 32 - 2 ** (32 - prefix));
}
