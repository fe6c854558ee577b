import type { Model } from '@kivram/core/gear/model';
import type { Protocol } from '@kivram/core/radio/kinds';
import { Random } from '../random';
import { ContentionTurns, SlotTurns, type Turns } from './channel';
import { layerOf, type Layer } from './layer';
import { Sender, type Burst } from './sender';
import { BulkSender } from './tcp';
import { Wire } from './wire';

/** One radio of a run: its model, the level at which it hears the other, and how its cable came up. */
export interface RunEnd {
  model: Model;
  levelDbm: number;
  portMbps: number;
  /** what it is set to send with */
  conductedDbm?: number;
}

/** What a stand-in throughput run goes through. */
export interface RunConditions {
  from: RunEnd;
  to: RunEnd;
  widthMHz: number;
  protocol: Protocol;
  errorCorrection: boolean;
  /** what the feed or the wall socket behind it lets through */
  feedMbps?: number;
  /** share of packets that a bad cable eats */
  lossShare?: number;
  reverse: boolean;
  seconds: number;
  startedAtS: number;
  seed: number;
}

/** TCP payload of a packet of 1500 bytes, with timestamps; an acknowledgement as a packet. */
const payloadBytes = 1448;
const packetBytes = 1500;
const ackBytes = 52;

/** Packets that a radio holds for the air, and for its own cable. */
const radioQueue = 1500;
const portQueue = 800;

/** Slow fading of the level during a run. */
const fadingSdDb = 0.5;
const fadingCorrelationS = 0.6;

/** A sender that hears nothing waits so long before it begins again (RFC 6298: at least a second; common systems 0.2). */
const patienceUs = 200_000;

/** Packets that go onto the wire in one piece: finer steps change nothing and cost time. */
const wirePiece = 8;

/**
 * A run over the stand-in link, frame by frame, written as iperf3 writes its JSON: a bulk sender, its cable, a radio that gathers frames, takes
 * turns, picks its step by trying and repeats what was lost, the other radio's cable, and acknowledgements on the way back. What comes out is what
 * got through; nothing here knows what anybody expects.
 */
export function runThroughput(conditions: RunConditions): Record<string, unknown> {
  const run = new Run(conditions);
  const seconds = Array.from({ length: conditions.seconds }, (_, i) => run.until((i + 1) * 1e6));
  return asIperf3(conditions, seconds);
}

interface Second {
  bytes: number;
  retransmits: number;
}

class Run {
  private nowUs = 0;
  private fadeUs = 0;
  private fadeDb = 0;
  private unacked = 0;
  /** packets whose acknowledgements were lost on the air */
  private ackDebt = 0;
  private readonly tcp = new BulkSender();
  private readonly random: Random;
  private readonly inlet: Wire;
  private readonly outlet: Wire;
  private readonly data: Sender;
  private readonly acks: Sender;
  private readonly turns: Turns | null;

  constructor(private readonly conditions: RunConditions) {
    const { from, to, widthMHz, errorCorrection, protocol } = conditions;
    this.random = new Random(conditions.seed);
    this.inlet = new Wire(Math.min(from.portMbps, conditions.feedMbps ?? Infinity));
    this.outlet = new Wire(to.portMbps, portQueue);
    const there = layerOf(from.model, to.model, widthMHz, errorCorrection, from.conductedDbm);
    const back = layerOf(to.model, from.model, widthMHz, errorCorrection, to.conductedDbm);
    const sender = (layer: Layer, levelDbm: number, bytes: number): Sender =>
      new Sender(layer, () => levelDbm + this.fadeDb, bytes, this.random);
    this.data = sender(there, to.levelDbm, packetBytes);
    this.acks = sender(back, from.levelDbm, ackBytes);
    const { contention } = there;
    this.turns = !contention
      ? null
      : protocol === 'slots'
        ? new SlotTurns()
        : new ContentionTurns({ ...there, contention });
  }

  /** Runs on to a time and says what arrived on the way. */
  until(endUs: number): Second {
    const before = this.tcp.retransmits;
    let arrived = 0;
    while (this.nowUs < endUs) arrived += this.turns ? this.takeTurn(this.turns, endUs) : this.bothAtOnce(endUs);
    return { bytes: arrived * payloadBytes, retransmits: this.tcp.retransmits - before };
  }

  private takeTurn(turns: Turns, endUs: number): number {
    this.fill();
    const turn = turns.next(this.data, this.acks);
    if (!turn) {
      this.waitForCables(endUs);
      return this.drain();
    }
    this.advance(turn.usedUs);
    const { delivered, dropped } = turn.burst;
    if (turn.who === 'forward') this.arrive(delivered, dropped, turn.usedUs);
    else this.acksBack(turn.burst);
    return this.drain();
  }

  /** A direction of its own: data and acknowledgements do not wait for each other. */
  private bothAtOnce(endUs: number): number {
    this.fill();
    if (!this.data.queued) {
      if (this.acks.queued) this.returnAcks();
      else this.waitForCables(endUs);
      return this.drain();
    }
    const { airUs, delivered, dropped } = this.data.send();
    this.advance(airUs);
    this.arrive(delivered, dropped, airUs);
    this.returnAcks();
    return this.drain();
  }

  private returnAcks(): void {
    while (this.acks.queued) {
      const burst = this.acks.send();
      this.acksBack(burst);
      if (!burst.delivered) break;
    }
  }

  private acksBack({ delivered, dropped }: Burst): void {
    this.ackDebt += 2 * dropped;
    if (!delivered) return;
    this.tcp.acknowledged(2 * delivered + this.ackDebt);
    this.ackDebt = 0;
  }

  /** Nobody has anything to send: on to when a cable brings something, or to when the sender loses patience. */
  private waitForCables(endUs: number): void {
    const nextUs = Math.min(this.inlet.nextUs, this.outlet.nextUs);
    if (nextUs === Infinity && this.tcp.inFlight > 0) {
      this.nowUs += patienceUs;
      this.tcp.timeOut(this.nowUs);
    } else this.nowUs = Math.min(endUs, Math.max(this.nowUs + 1, nextUs));
  }

  /** The application behind the near cable always has more; the cable passes it to the radio. */
  private fill(): void {
    const room = Math.min(this.tcp.room, radioQueue - this.data.queued - this.inlet.waiting);
    for (let left = room; left > 0; left -= wirePiece) {
      const piece = Math.min(left, wirePiece);
      this.inlet.put(piece, this.nowUs);
      this.tcp.sent(piece);
    }
    this.data.queued += this.inlet.take(this.nowUs);
  }

  private arrive(delivered: number, dropped: number, roundTripUs: number): void {
    let eaten = dropped;
    let kept = delivered;
    const share = this.conditions.lossShare ?? 0;
    if (share > 0) for (let i = 0; i < delivered; i++) if (this.random.chance(share)) kept--;
    eaten += delivered - kept;
    eaten += this.outlet.put(kept, this.nowUs);
    if (eaten) this.tcp.lost(eaten, this.nowUs, 2 * roundTripUs);
  }

  /** What has left the far cable is there; every second packet is acknowledged. */
  private drain(): number {
    const arrived = this.outlet.take(this.nowUs);
    this.unacked += arrived;
    const acks = Math.floor(this.unacked / 2);
    this.unacked -= 2 * acks;
    this.acks.queued += acks;
    return arrived;
  }

  private advance(us: number): void {
    this.nowUs += us;
    this.fadeUs += us;
    if (this.fadeUs < 2e4) return;
    const keep = Math.exp(-this.fadeUs / 1e6 / fadingCorrelationS);
    this.fadeDb = keep * this.fadeDb + fadingSdDb * Math.sqrt(1 - keep ** 2) * this.random.normal();
    this.fadeUs = 0;
  }
}

function asIperf3({ seconds, startedAtS, reverse }: RunConditions, each: Second[]): Record<string, unknown> {
  const intervals = each.map(({ bytes, retransmits }, i) => ({
    streams: [],
    sum: { start: i, end: i + 1, seconds: 1, bytes, bits_per_second: 8 * bytes, retransmits, omitted: false },
  }));
  const bytes = each.reduce((sum, s) => sum + s.bytes, 0);
  const retransmits = each.reduce((sum, s) => sum + s.retransmits, 0);
  const total = { start: 0, end: seconds, seconds, bytes, bits_per_second: (8 * bytes) / seconds };
  return {
    start: {
      version: 'iperf 3.12 (stand-in)',
      timestamp: { timesecs: startedAtS },
      test_start: { protocol: 'TCP', num_streams: 1, duration: seconds, reverse: reverse ? 1 : 0 },
    },
    intervals,
    end: { sum_sent: { ...total, retransmits, sender: true }, sum_received: { ...total, sender: true } },
  };
}
