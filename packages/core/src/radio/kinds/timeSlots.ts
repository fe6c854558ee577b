import type { Access } from './kind';
import { airBytesPerAck, airBytesPerPacket } from './ofdm';

/** A slot protocol's frame of 8 ms spends this share on guard times, slot maps and clock (common practice, no source). */
const slotOverhead = 0.12;

/** Time slots by one master clock instead of contention; the steps are those of the layer below. */
export const timeSlots: Access = {
  fullDuplex: false,
  bytesPerPacket: airBytesPerPacket,
  bytesPerAck: airBytesPerAck,
  dataShare: () => 1 - slotOverhead,
  source: 'time slots, common practice',
};
