import type { Protocol } from '../gear';
import type { Phy } from '../radio';
import { ethernetTcpMbps, ipPacketBytes, tcpPayloadBytes } from './ethernet';

export interface TcpConditions {
  phy: Phy;
  protocol: Protocol;
  phyRateMbps: number;
  /** rate of the other direction, which carries the acknowledgements */
  reversePhyRateMbps: number;
  /** the slower of the two Ethernet ports */
  ethernetMbps: number;
}

/** One step from the rate on air to the TCP payload. */
export interface ThroughputLine {
  key: 'phy' | 'airtime' | 'headers' | 'acks' | 'ethernet' | 'duplex';
  label: string;
  mbps: number;
  source: string;
}

export interface DirectionExpectation {
  lines: ThroughputLine[];
  /** TCP payload with only this direction loaded */
  aloneMbps: number;
  /** TCP payload with both directions loaded: the channel is shared in turns */
  bothMbps: number;
  limitedBy: 'radio' | 'ethernet' | 'nolink';
}

/** Frame exchange of a channel access, microseconds: IEEE 802.11-2020 clause 21 (5 GHz OFDM) and clause 20 (60 GHz). */
const exchange = {
  ofdm: { longestDataUs: 5484, preambleUs: 48, sifsUs: 16, blockAckUs: 32, arbitrationUs: 43, meanBackoffUs: 67.5 },
  dmg: { longestDataUs: 2000, preambleUs: 4, sifsUs: 3, blockAckUs: 12, arbitrationUs: 13, meanBackoffUs: 37.5 },
};

/** Frames one block acknowledgement can cover: IEEE 802.11-2020 9.3.1.8 (64), 802.11ax-2021 (256). */
const framesPerBlockAck: Record<Phy, number> = { HT: 64, VHT: 64, HE: 256, DMG: 64 };

/** A frame on air: packet, link header 8, QoS header and check 30, encryption 16, aggregation delimiter and padding 6. */
const airBytesPerPacket = ipPacketBytes + 8 + 30 + 16 + 6;

/** A slot protocol's frame of 8 ms spends this share on guard times, slot maps and clock (common practice, no source). */
const slotOverhead = 0.12;

/** One TCP acknowledgement for every two segments (RFC 5681), 52 bytes in a frame of its own inside the aggregate. */
const ackAirBytes = (52 + 8 + 30 + 16 + 6) / 2;

/**
 * TCP payload to expect over a half-duplex radio link, by counting a full aggregate's frame exchange: contention, preamble, data,
 * block acknowledgement, TCP acknowledgements in the other direction, and the Ethernet ports at the ends. Losses to retries
 * and interference are not in it, so a clean link comes close to it and none exceeds it.
 */
export function expectTcp(conditions: TcpConditions): DirectionExpectation {
  const { phyRateMbps: rate, reversePhyRateMbps: reverse, ethernetMbps } = conditions;
  if (rate <= 0 || reverse <= 0) return { lines: [], aloneMbps: 0, bothMbps: 0, limitedBy: 'nolink' };

  const airtime = airtimeShare(conditions);
  const afterAirtime = rate * airtime;
  const afterHeaders = (afterAirtime * tcpPayloadBytes) / airBytesPerPacket;
  const dataUs = (airBytesPerPacket * 8) / rate;
  const ackUs = (ackAirBytes * 8) / reverse;
  const radioMbps = (afterHeaders * dataUs) / (dataUs + ackUs);
  const portMbps = ethernetTcpMbps(ethernetMbps);
  const aloneMbps = Math.min(radioMbps, portMbps);
  const bothMbps = Math.min(radioMbps / 2, portMbps);
  return {
    lines: [
      { key: 'phy', label: 'Rate on air', mbps: rate, source: 'modulation, width, streams' },
      {
        key: 'airtime',
        label: 'After channel access and turns',
        mbps: afterAirtime,
        source: 'frame exchange, IEEE 802.11',
      },
      { key: 'headers', label: 'After headers', mbps: afterHeaders, source: '1448 of 1560 bytes' },
      { key: 'acks', label: 'After TCP acknowledgements', mbps: radioMbps, source: 'RFC 5681' },
      {
        key: 'ethernet',
        label: `Through the ${ethernetMbps} Mbit/s port`,
        mbps: aloneMbps,
        source: 'IEEE 802.3 framing',
      },
      { key: 'duplex', label: 'With both directions loaded', mbps: bothMbps, source: 'one channel, in turns' },
    ],
    aloneMbps,
    bothMbps,
    limitedBy: portMbps < radioMbps ? 'ethernet' : 'radio',
  };
}

/** Share of the time that carries data bits in a loaded direction. */
function airtimeShare({ phy, protocol, phyRateMbps }: TcpConditions): number {
  if (protocol === 'slots') return 1 - slotOverhead;
  const timing = phy === 'DMG' ? exchange.dmg : exchange.ofdm;
  const dataUs = Math.min(timing.longestDataUs, (framesPerBlockAck[phy] * airBytesPerPacket * 8) / phyRateMbps);
  const overheadUs =
    timing.arbitrationUs + timing.meanBackoffUs + timing.preambleUs + timing.sifsUs + timing.blockAckUs;
  return dataUs / (dataUs + overheadUs);
}
