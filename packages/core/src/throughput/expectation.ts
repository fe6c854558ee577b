import { accessOf, type Protocol } from '../radio/kinds';
import type { Phy } from '../radio/kinds/kind';
import { ethernetTcpMbps, tcpPayloadBytes } from './ethernet';

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

/**
 * TCP payload to expect over a radio link, by counting a full aggregate's frame exchange: contention, preamble, data, block
 * acknowledgement, TCP acknowledgements in the other direction, and the Ethernet ports at the ends. Where both directions run at once there
 * are no turns, and acknowledgements cost the other direction only. Losses to retries and interference are not in it, so a clean link comes close to it
 * and none exceeds it.
 */
export function expectTcp(conditions: TcpConditions): DirectionExpectation {
  const { phyRateMbps: rate, reversePhyRateMbps, ethernetMbps } = conditions;
  if (rate <= 0 || reversePhyRateMbps <= 0) return { lines: [], aloneMbps: 0, bothMbps: 0, limitedBy: 'nolink' };

  const access = accessOf(conditions.phy, conditions.protocol);
  const { afterAirtime, afterHeaders, dataUs, radioMbps } = radioRates(conditions);
  const portMbps = ethernetTcpMbps(ethernetMbps);
  const aloneMbps = Math.min(radioMbps, portMbps);
  // Acknowledgements of the other direction's data take their place beside this direction's own data.
  const fullDuplexBothMbps = (radioMbps * dataUs) / (dataUs + (access.bytesPerAck * 8) / rate);
  const bothMbps = Math.min(access.fullDuplex ? fullDuplexBothMbps : radioMbps / 2, portMbps);
  return {
    lines: [
      { key: 'phy', label: 'Rate on air', mbps: rate, source: 'modulation, width, streams' },
      {
        key: 'airtime',
        label: access.fullDuplex ? 'After pilots' : 'After channel access and turns',
        mbps: afterAirtime,
        source: access.source,
      },
      {
        key: 'headers',
        label: 'After headers',
        mbps: afterHeaders,
        source: `${tcpPayloadBytes} of ${access.bytesPerPacket} bytes`,
      },
      { key: 'acks', label: 'After TCP acknowledgements', mbps: radioMbps, source: 'RFC 5681' },
      {
        key: 'ethernet',
        label: `Through the ${ethernetMbps} Mbit/s port`,
        mbps: aloneMbps,
        source: 'IEEE 802.3 framing',
      },
      {
        key: 'duplex',
        label: 'With both directions loaded',
        mbps: bothMbps,
        source: access.fullDuplex ? 'two frequencies, at once' : 'one channel, in turns',
      },
    ],
    aloneMbps,
    bothMbps,
    limitedBy: portMbps < radioMbps ? 'ethernet' : 'radio',
  };
}

/** The TCP payload with one direction loaded, without the way to it: as `expectTcp`, for those who ask many times. */
export function tcpAloneMbps(conditions: TcpConditions): number {
  if (conditions.phyRateMbps <= 0 || conditions.reversePhyRateMbps <= 0) return 0;
  return Math.min(radioRates(conditions).radioMbps, ethernetTcpMbps(conditions.ethernetMbps));
}

function radioRates({ phy, protocol, phyRateMbps: rate, reversePhyRateMbps: reverse }: TcpConditions) {
  const access = accessOf(phy, protocol);
  const afterAirtime = rate * access.dataShare(rate);
  const afterHeaders = (afterAirtime * tcpPayloadBytes) / access.bytesPerPacket;
  const dataUs = (access.bytesPerPacket * 8) / rate;
  const ackUs = (access.bytesPerAck * 8) / reverse;
  const radioMbps = access.fullDuplex
    ? Math.min(afterHeaders, (afterHeaders * dataUs) / ackUs)
    : (afterHeaders * dataUs) / (dataUs + ackUs);
  return { afterAirtime, afterHeaders, dataUs, radioMbps };
}
