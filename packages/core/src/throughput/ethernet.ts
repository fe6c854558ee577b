/** Bytes of a full TCP segment with timestamps: 1500 MTU - 20 IP - 20 TCP - 12 options. */
export const tcpPayloadBytes = 1448;
export const ipPacketBytes = 1500;

/** What a frame of 1500 bytes occupies on an Ethernet wire: preamble 8, header 14, check 4, gap 12 (IEEE 802.3 clauses 3 and 4). */
const wireBytes = ipPacketBytes + 8 + 14 + 4 + 12;

/** TCP payload through an Ethernet port, Mbit/s: 94.1 through 100BASE-TX, 941 through a gigabit port. */
export function ethernetTcpMbps(portMbps: number): number {
  return (portMbps * tcpPayloadBytes) / wireBytes;
}
