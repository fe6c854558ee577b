import { dmg } from './dmg';
import { he } from './he';
import { ht } from './ht';
import type { Access, Phy, RadioKind } from './kind';
import { narrowband } from './narrowband';
import { timeSlots } from './timeSlots';
import { vht } from './vht';

/** Every kind of radio; a new kind is a new file and a line here. */
export const radioKinds: Readonly<Record<Phy, RadioKind>> = { HT: ht, VHT: vht, HE: he, DMG: dmg, NB: narrowband };

/** The air protocols a radio can speak. `slots` is a time-slot protocol with one master clock. */
export const protocols = ['802.11', 'slots'] as const;
export type Protocol = (typeof protocols)[number];
export const protocolWords: Record<Protocol, string> = { '802.11': '802.11', slots: 'time slots' };

/** How a radio of this kind gets its turns under a protocol; a full-duplex radio takes none. */
export function accessOf(phy: Phy, protocol: Protocol): Access {
  const own = radioKinds[phy].access;
  return protocol === 'slots' && !own.fullDuplex ? timeSlots : own;
}
