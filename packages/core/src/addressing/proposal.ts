import { isWithin, type SiteSubnet } from './network';
import { AddressError, addressText, addressValue, hostRange } from './subnet';

/** The subnet that addresses are wanted in, and those that somebody has already. */
export interface AddressPlan {
  subnet: SiteSubnet;
  taken: string[];
}

/** The two schools of counting: up from a base, or down from the top of the subnet. */
export type CountingSchool = { from: 'base'; base: string } | { from: 'top' };

/**
 * The next free static addresses: inside the subnet, outside the DHCP range, not the gateway, not taken.
 * @throws AddressError where the plan does not hold so many
 */
export function proposeAddresses(plan: AddressPlan, count: number, school: CountingSchool = { from: 'top' }): string[] {
  const { gateway, dhcp } = plan.subnet;
  const { first, last } = hostRange(plan.subnet);
  const taken = new Set([...plan.taken, ...(gateway ? [gateway] : [])].map(addressValue));
  const free = (value: number): boolean => !taken.has(value) && !dhcp.some((range) => isWithin(value, range));

  const found: number[] = [];
  const step = school.from === 'top' ? -1 : 1;
  let value = school.from === 'top' ? last : addressValue(school.base);
  for (; value >= first && value <= last && found.length < count; value += step) if (free(value)) found.push(value);
  if (found.length < count) {
    const { address, prefix } = plan.subnet;
    const mend = dhcp.length ? 'Shorten the DHCP range or widen the subnet.' : 'Widen the subnet.';
    throw new AddressError(
      `Only ${found.length} of ${count} static addresses are free in ${address}/${prefix}. ${mend}`,
    );
  }
  // The lower of a pair goes to the near end whichever way we count.
  return found.sort((a, b) => a - b).map(addressText);
}
