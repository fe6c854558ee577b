/** Bytes of a full TCP segment with timestamps: 1500 MTU - 20 IP - 20 TCP - 12 options. */
export const tcpPayloadBytes = 1448;
export const ipPacketBytes = 1500;

/** What a frame of 1500 bytes occupies on an Ethernet wire: preamble 8, header 14, check 4, gap 12 (IEEE 802.3 clauses 3 and 4). */
const wireBytes = ipPacketBytes + 8 + 14 + 4 + 12;

/** Headers of IP and UDP, the smallest that a payload has before it. */
const leastHeaderBytes = 28;
/** What a frame of any size has around it on the wire. */
const aroundBytes = wireBytes - ipPacketBytes;
/** Ports of a gigabit and more may take frames as long as this (common practice, no source); slower ones take those of the standard. */
const jumboPacketBytes = 9000;

/** The most payload that any protocol gets through an Ethernet port, Mbit/s: 95.7 through 100BASE-TX. */
export function ethernetPayloadMbps(portMbps: number): number {
  const packetBytes = portMbps < 1000 ? ipPacketBytes : jumboPacketBytes;
  return (portMbps * (packetBytes - leastHeaderBytes)) / (packetBytes + aroundBytes);
}

/** TCP payload through an Ethernet port, Mbit/s: 94.1 through 100BASE-TX, 941 through a gigabit port. */
export function ethernetTcpMbps(portMbps: number): number {
  return (portMbps * tcpPayloadBytes) / wireBytes;
}
