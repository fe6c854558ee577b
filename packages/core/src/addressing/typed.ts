import { AddressError, addressText, addressValue, isAddress, type Subnet } from './subnet';
import type { AddressRange } from './network';

/** A subnet as people write it: 10.20.0.0/24, 10.20.0.0/255.255.255.0, or address and mask with a blank between. @throws AddressError */
export function parseSubnet(text: string): Subnet {
  const [address = '', mask = '', ...more] = text.trim().split(/\s*\/\s*|\s+/);
  if (!mask || more.length) {
    throw new AddressError(`"${text.trim()}" is no subnet: write an address and its mask, like 10.20.0.0/24.`);
  }
  addressValue(address);
  return { address, prefix: isAddress(mask) ? prefixOfMask(mask) : prefixOf(mask) };
}

function prefixOf(text: string): number {
  const prefix = Number(text);
  if (/^\d{1,2}$/.test(text) && prefix >= 8 && prefix <= 32) return prefix;
  throw new AddressError(
    `"/${text}" is no mask: write the number of its bits, from 8 to 32, or all of it, like 255.255.255.0.`,
  );
}

/** The length of a dotted mask, whose ones all stand before its zeros. */
function prefixOfMask(mask: string): number {
  const value = addressValue(mask);
  const prefix = Array.from({ length: 25 }, (_, i) => i + 8).find((p) => 2 ** 32 - 2 ** (32 - p) === value);
  if (prefix !== undefined) return prefix;
  throw new AddressError(`${mask} is no mask: one has ones before zeros only, like 255.255.255.0.`);
}

/** Ranges as people write them, with commas between: 10.20.0.100 to 10.20.0.199, or 10.20.0.100-199. @throws AddressError */
export function parseRanges(text: string): AddressRange[] {
  return text
    .split(/[,;\n]/)
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => {
      const [first = '', last = '', ...more] = part.split(/\s*(?:-|–|\bto\b)\s*/);
      const whole = /^\d{1,3}$/.test(last) ? first.replace(/\d+$/, last) : last;
      if (!last || more.length) {
        throw new AddressError(
          `"${part}" is no range: write its first and its last address, like 10.20.0.100 to 10.20.0.199.`,
        );
      }
      return { first: addressText(addressValue(first)), last: addressText(addressValue(whole)) };
    });
}

export function rangesText(ranges: readonly AddressRange[]): string {
  return ranges.map(({ first, last }) => `${first} to ${last}`).join(', ');
}
