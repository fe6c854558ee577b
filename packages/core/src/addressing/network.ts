import { addressText, addressValue, hostRange, inSubnet, isAddress, subnetRange, type Subnet } from './subnet';

/** Addresses from the first to the last, both of them included. */
export interface AddressRange {
  first: string;
  last: string;
}

/** A subnet of a site, with its router and what that hands out by itself. */
export interface SiteSubnet extends Subnet {
  gateway: string | null;
  dhcp: readonly AddressRange[];
}

/** A network as it is typed: subnets by their names, and the devices that are known. */
export interface NetworkPlan {
  subnets: readonly (SiteSubnet & { name: string })[];
  devices: readonly { name: string; address: string }[];
}

/** Something about a network that cannot be, or that is asking for trouble. */
export interface NetworkFinding {
  severity: 'forbids' | 'warns';
  /** the row that it is about, by its list and its place in it */
  at: { list: 'subnets' | 'devices'; index: number };
  reason: string;
}

export function isWithin(value: number, { first, last }: AddressRange): boolean {
  return value >= addressValue(first) && value <= addressValue(last);
}

/** The subnet that an address belongs to. */
export function subnetOf<S extends Subnet>(subnets: readonly S[], address: string): S | undefined {
  return isAddress(address) ? subnets.find((subnet) => inSubnet(address, subnet)) : undefined;
}

/**
 * What is wrong with a network: subnets that overlap, a router or a DHCP range outside of its subnet, an address that two have. Whatever is no address at all is left
 * to whoever reads the fields.
 */
export function checkNetwork({ subnets, devices }: NetworkPlan): NetworkFinding[] {
  return [
    ...subnets.flatMap((subnet, index) =>
      subnetFaults(subnet, subnets.slice(0, index)).map((reason): NetworkFinding => ({
        severity: 'forbids',
        at: { list: 'subnets', index },
        reason,
      })),
    ),
    ...deviceFindings(devices, subnets),
  ];
}

function subnetFaults(
  subnet: NetworkPlan['subnets'][number],
  before: readonly NetworkPlan['subnets'][number][],
): string[] {
  if (!isAddress(subnet.address)) return [];
  const text = `${subnet.address}/${subnet.prefix}`;
  const own = subnetRange(subnet);
  const overlapped = before.filter((other) => {
    if (!isAddress(other.address)) return false;
    const range = subnetRange(other);
    return range.first <= own.last && own.first <= range.last;
  });
  const hosts = hostRange(subnet);
  const isHost = (address: string): boolean =>
    addressValue(address) >= hosts.first && addressValue(address) <= hosts.last;
  const span = `${addressText(hosts.first)} to ${addressText(hosts.last)}`;
  const typed = subnet.dhcp.filter(({ first, last }) => isAddress(first) && isAddress(last));
  return [
    ...overlapped.map(
      ({ name, address, prefix }) =>
        `${text} overlaps ${name}, ${address}/${prefix}: no router could tell which of them is meant.`,
    ),
    ...(subnet.gateway && isAddress(subnet.gateway) && !isHost(subnet.gateway)
      ? [`The router ${subnet.gateway} is no device of ${text}; its devices have ${span}.`]
      : []),
    ...typed.flatMap(({ first, last }, i) => {
      if (addressValue(first) > addressValue(last))
        return [`The DHCP range ${first} to ${last} runs backwards: exchange its ends.`];
      if (!isHost(first) || !isHost(last))
        return [`The DHCP range ${first} to ${last} does not lie within ${text}; its devices have ${span}.`];
      const twice = typed
        .slice(0, i)
        .find((r) => addressValue(r.first) <= addressValue(last) && addressValue(first) <= addressValue(r.last));
      return twice ? [`The DHCP ranges ${twice.first} to ${twice.last} and ${first} to ${last} overlap.`] : [];
    }),
  ];
}

function deviceFindings(devices: NetworkPlan['devices'], subnets: NetworkPlan['subnets']): NetworkFinding[] {
  const known = subnets.filter((subnet) => isAddress(subnet.address));
  /** who has an address, by the address */
  const owners = new Map<string, string>();
  return devices.flatMap(({ name, address }, index): NetworkFinding[] => {
    if (!isAddress(address)) return [];
    const finding = (severity: NetworkFinding['severity'], reason: string): NetworkFinding[] => [
      { severity, at: { list: 'devices', index }, reason },
    ];
    const owner = owners.get(address);
    if (owner !== undefined)
      return finding('forbids', `${address} is ${owner}'s already: ${name || 'this device'} needs another.`);
    owners.set(address, name);
    const subnet = subnetOf(known, address);
    if (!subnet) {
      return known.length
        ? finding('warns', `${address} lies in none of the subnets: from the site it cannot be reached.`)
        : [];
    }
    const handedOut = subnet.dhcp.find(
      (range) => isAddress(range.first) && isAddress(range.last) && isWithin(addressValue(address), range),
    );
    return handedOut
      ? finding(
          'warns',
          `${address} lies in the DHCP range ${handedOut.first} to ${handedOut.last}: the router may give it to another device, unless it keeps it for this one.`,
        )
      : [];
  });
}
