import { createHmac } from 'node:crypto';
import { bandWords, type Model } from '@kivram/core/gear/model';
import { securityWords, type Sheet } from '@kivram/core/pairing/sheet';
import { protocolWords } from '@kivram/core/radio/kinds';
import { channelCentresMHz } from '@kivram/core/spectrum/channel';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import type { Air, Listener } from './air';
import type { Carrier, EthernetFrame, Frame, FrameBody } from './frame';

/** What the rest of the network sees behind a radio: here one computer at each end. */
export type EthernetPort = (frame: EthernetFrame) => void;

/**
 * A radio that does what its sheet says: refuses to start with settings its hardware does not have, beacons or scans, joins,
 * proves the passphrase, and then bridges. It decides from what it hears, not from the other end's settings.
 */
export class StandinRadio implements Listener {
  state: 'off' | 'idle' | 'scanning' | 'joining' | 'linked' = 'off';
  readonly stations = new Set<string>();
  private peer: string | undefined;
  private tuned: Carrier | undefined;
  private found: { from: string; carrier: Carrier; body: FrameBody } | undefined;
  private readonly nonces = new Map<string, string>();
  private addressTaken = false;
  private pongFrom: string | undefined;
  port: EthernetPort = () => undefined;

  constructor(
    readonly mac: string,
    readonly label: string,
    readonly model: Model,
    readonly sheet: Sheet,
    private readonly air: Air,
    private readonly law: readonly RuleSet[],
  ) {
    air.join(this);
  }

  /** Boots. A radio with settings it cannot follow stays silent and says why in its own log. */
  start(): void {
    const refusal = this.refusal();
    if (refusal) {
      this.say(`does not start: ${refusal}`);
      return;
    }
    this.state = 'idle';
    if (this.sheet.role === 'station') return this.say('starts as a station');
    this.tuned = this.receiveCarrier();
    this.say(
      this.mustListenFirst()
        ? `listens for radar on ${this.tuned.centreMHz} MHz, a minute long, then sends`
        : `is on air on ${this.sendCarrier().centreMHz} MHz`,
    );
  }

  /** Where radar has the right of way, the radio that sets the channel listens before it sends. */
  mustListenFirst(): boolean {
    const { sheet } = this;
    if (this.state === 'off' || sheet.role === 'station' || sheet.band === 'licensed') return false;
    return (this.rules() ?? []).some(
      (rule) =>
        rule.radar &&
        rule.lowestMHz < sheet.centreMHz + sheet.widthMHz / 2 &&
        rule.highestMHz > sheet.centreMHz - sheet.widthMHz / 2,
    );
  }

  /** A relay calls the neighbours it lists, one by one. */
  greet(): void {
    if (this.state === 'off' || this.sheet.role !== 'relay') return;
    for (const mac of this.sheet.neighbours) this.sendGreeting(plainMac(mac));
  }

  beacon(): void {
    if (this.state === 'off' || this.sheet.role !== 'ap') return;
    this.send('beacon', '*', {
      networkName: this.sheet.networkName,
      security: this.sheet.security,
      slotMap: this.slotMap(),
    });
  }

  /** The carriers a station tries in turn. */
  scanPlan(): Carrier[] {
    const { sheet, model } = this;
    if (this.state === 'off' || sheet.role !== 'station') return [];
    if (sheet.band === 'licensed') return [this.receiveCarrier()];
    const widths = sheet.followsWidth ? model.widthsMHz : [sheet.widthMHz];
    return widths.flatMap((widthMHz) =>
      channelCentresMHz(sheet.band, widthMHz)
        .filter((centreMHz) => !sheet.scanMHz.length || sheet.scanMHz.includes(centreMHz))
        .map((centreMHz) => ({ centreMHz, widthMHz, protocol: sheet.protocol, coded: false }))
        .filter((carrier) => this.mayUse(carrier)),
    );
  }

  tune(carrier: Carrier): void {
    this.tuned = carrier;
    this.state = 'scanning';
  }

  /** Joins what the scan found, if it is the network this sheet names. */
  join(): void {
    const { found } = this;
    if (!found) return;
    this.tuned = found.carrier;
    this.state = 'joining';
    this.peer = found.from;
    this.say(`hears "${found.body.networkName}" on ${found.carrier.centreMHz} MHz and asks to join`);
    this.send('authenticate', found.from, {});
  }

  hears(carrier: Carrier): boolean {
    const { tuned } = this;
    if (this.state === 'off' || !tuned) return false;
    // A full-duplex radio that sends on the frequency it listens to hears only itself.
    if (this.sheet.band === 'licensed' && this.sheet.txMHz === this.sheet.rxMHz) return false;
    return (
      tuned.centreMHz === carrier.centreMHz &&
      tuned.widthMHz === carrier.widthMHz &&
      tuned.protocol === carrier.protocol &&
      tuned.coded === carrier.coded
    );
  }

  receive(frame: Frame): void {
    if (frame.kind === 'beacon') this.onBeacon(frame);
    else if (frame.kind === 'ethernet') this.onEthernet(frame);
    else if (frame.kind === 'greet') this.onGreeting(frame);
    else if (this.sheet.role === 'ap') this.asAccessPoint(frame);
    else if (frame.from === this.peer) this.asStation(frame);
  }

  /** Puts an Ethernet frame from the cable onto the air. Only a bridge carries what is not its own. */
  fromCable(frame: EthernetFrame): void {
    if (this.sheet.bridge) this.sendEthernet(frame);
  }

  /** Asks whether anybody else has this radio's address, as radios do when they come up (RFC 5227). */
  probeAddress(): boolean {
    this.addressTaken = false;
    this.sendEthernet(this.frame('who-has', this.sheet.address));
    return this.addressTaken;
  }

  /** Pings an address through the link; true when the answer comes back. Without a router only the own subnet can be reached. */
  ping(address: string): boolean {
    if (!this.onLink(address)) return false;
    this.pongFrom = undefined;
    this.sendEthernet(this.frame('ping', address));
    return this.pongFrom === address;
  }

  private onBeacon(frame: Frame): void {
    if (this.state !== 'scanning' || this.found || !this.tuned) return;
    const { networkName, security, slotMap } = frame.body;
    if (slotMap !== this.slotMap()) this.say('hears a slot map it cannot follow');
    else if (networkName !== this.sheet.networkName) this.say(`hears "${networkName}", which is not its network`);
    else if (security !== this.sheet.security)
      this.say(
        `hears its network with "${securityWords[security ?? 'open']}", and is set to "${securityWords[this.sheet.security]}"`,
      );
    else this.found = { from: frame.from, carrier: this.tuned, body: frame.body };
  }

  /** A relay links with a neighbour that it lists, whose network is its own and who knows the passphrase. */
  private onGreeting(frame: Frame): void {
    if (this.sheet.role !== 'relay') return;
    const { networkName, security, slotMap, proof } = frame.body;
    if (!this.sheet.neighbours.some((mac) => plainMac(mac) === plainMac(frame.from))) {
      this.say(`is called by ${frame.from}, which is not in its list`);
    } else if (networkName !== this.sheet.networkName)
      this.say(`is called from "${networkName}", which is not its network`);
    else if (security !== this.sheet.security) this.say('is called with another kind of security');
    else if (slotMap !== this.slotMap()) this.say('hears a slot map it cannot follow');
    else if (security !== 'open' && proof !== this.prove(greetingNonce(frame.from, this.mac))) {
      this.say('is called with a wrong passphrase');
    } else {
      this.stations.add(frame.from);
      this.state = 'linked';
      this.say(`is linked with ${frame.from}`);
    }
  }

  private sendGreeting(to: string): void {
    this.send('greet', to, {
      networkName: this.sheet.networkName,
      security: this.sheet.security,
      slotMap: this.slotMap(),
      proof: this.prove(greetingNonce(this.mac, to)),
    });
  }

  private asAccessPoint(frame: Frame): void {
    if (frame.kind === 'authenticate') this.send('authenticated', frame.from, {});
    else if (frame.kind === 'associate') {
      if (this.sheet.ptpOnly && this.stations.size > 0 && !this.stations.has(frame.from)) {
        this.say('refuses a second station');
        this.send('refused', frame.from, { reason: 'no room for another station' });
      } else if (this.sheet.security === 'open') this.admit(frame.from);
      else {
        const nonce = `${this.mac}-${frame.from}-${this.stations.size}`;
        this.nonces.set(frame.from, nonce);
        this.send('challenge', frame.from, { nonce });
      }
    } else if (frame.kind === 'proof') {
      const nonce = this.nonces.get(frame.from) ?? '';
      if (frame.body.proof === this.prove(nonce)) this.admit(frame.from);
      else {
        this.say('refuses a wrong passphrase');
        this.send('rejected', frame.from, { reason: 'wrong passphrase' });
      }
    }
  }

  private admit(station: string): void {
    this.stations.add(station);
    this.state = 'linked';
    this.send(this.sheet.security === 'open' ? 'associated' : 'keyed', station, {});
  }

  private asStation(frame: Frame): void {
    if (frame.kind === 'authenticated') this.send('associate', frame.from, {});
    else if (frame.kind === 'challenge') this.send('proof', frame.from, { proof: this.prove(frame.body.nonce ?? '') });
    else if (frame.kind === 'associated' || frame.kind === 'keyed') {
      this.state = 'linked';
      this.say('is associated');
    } else if (frame.kind === 'refused' || frame.kind === 'rejected') {
      this.say(`is refused: ${frame.body.reason}`);
      this.state = 'idle';
    }
  }

  private onEthernet(frame: Frame): void {
    const ethernet = frame.body.ethernet;
    if (!ethernet || this.state !== 'linked') return;
    if (this.sheet.role === 'relay' && !this.stations.has(frame.from)) return;
    const mine = ethernet.targetAddress === this.sheet.address;
    if (ethernet.kind === 'who-has' && mine) {
      // The asker has claimed this very address: a conflict, and both will say so.
      this.sendEthernet({ ...this.frame('is-at', ethernet.senderAddress), senderAddress: this.sheet.address });
    } else if (ethernet.kind === 'is-at' && ethernet.senderAddress === this.sheet.address) this.addressTaken = true;
    else if (ethernet.kind === 'ping' && mine) {
      if (this.onLink(ethernet.senderAddress)) this.sendEthernet(this.frame('pong', ethernet.senderAddress));
    } else if (ethernet.kind === 'pong' && mine) this.pongFrom = ethernet.senderAddress;
    if (this.sheet.bridge) this.port(ethernet);
  }

  /** Whether an address shares this radio's network bits. */
  private onLink(address: string): boolean {
    const bits = (text: string): string =>
      text
        .split('.')
        .map((octet) => Number(octet).toString(2).padStart(8, '0'))
        .join('')
        .slice(0, this.sheet.prefix);
    return bits(address) === bits(this.sheet.address);
  }

  private hostBits(): string {
    return this.sheet.address
      .split('.')
      .map((octet) => Number(octet).toString(2).padStart(8, '0'))
      .join('')
      .slice(this.sheet.prefix);
  }

  private refusal(): string | undefined {
    const { sheet, model } = this;
    if (sheet.band !== model.band) return `it has no receiver for ${bandWords[sheet.band]}`;
    if (!model.protocols.includes(sheet.protocol)) return `it cannot speak ${protocolWords[sheet.protocol]}`;
    const follows = sheet.role === 'station' && sheet.followsWidth && sheet.band !== 'licensed';
    if (!follows && !model.widthsMHz.includes(sheet.widthMHz)) return `it cannot filter ${sheet.widthMHz} MHz`;
    if (sheet.conductedDbm > model.mostConductedDbm || sheet.conductedDbm < model.leastConductedDbm)
      return `it cannot send ${sheet.conductedDbm} dBm`;
    if (sheet.security !== 'open' && !sheet.passphrase) return 'its passphrase is missing';
    if (/^(0+|1+)$/.test(this.hostBits())) return `${sheet.address} cannot belong to a device`;
    if (sheet.band === 'licensed') return this.frequencyRefusal();
    if (sheet.role !== 'station' && !this.mayUse(this.sendCarrier()))
      return `it may not send on ${sheet.centreMHz} MHz`;
    return undefined;
  }

  private frequencyRefusal(): string | undefined {
    const { sheet, model } = this;
    for (const mhz of [sheet.txMHz, sheet.rxMHz]) {
      if (mhz === null) return 'its frequencies are missing';
      const half = sheet.widthMHz / 2;
      if (mhz - half < model.lowestMHz || mhz + half > model.highestMHz) return `it does not tune to ${mhz} MHz`;
    }
    return undefined;
  }

  /** What its country allows without a licence; undefined where it has no rules for it, and keeps to its own hardware. */
  private rules(): RuleSet['rules'] | undefined {
    const law = this.law.find((set) => set.country === this.sheet.country);
    // A job's own notes are no part of a radio's program.
    return law?.countryUnknown ? undefined : law?.rules.filter((rule) => rule.layer !== 'restriction');
  }

  /** Whether hardware, channel raster and the country set on this radio allow a carrier: its table has channels of 20 MHz, each from one row of the country's, and a wider carrier is made of those. */
  private mayUse({ centreMHz, widthMHz }: Carrier): boolean {
    if (!channelCentresMHz(this.sheet.band, widthMHz).includes(centreMHz)) return false;
    const rules = this.rules();
    const rowMHz = this.sheet.band === '60GHz' ? widthMHz : Math.min(widthMHz, 20);
    for (let low = centreMHz - widthMHz / 2; low < centreMHz + widthMHz / 2; low += rowMHz) {
      const high = low + rowMHz;
      if (low < this.model.lowestMHz || high > this.model.highestMHz) return false;
      const rows = rules?.filter((rule) => low >= rule.lowestMHz && high <= rule.highestMHz);
      if (rows && !rows.some((row) => (row.mostWidthMHz ?? widthMHz) >= widthMHz)) return false;
    }
    return true;
  }

  private sendCarrier(): Carrier {
    const { sheet } = this;
    const own = sheet.band === 'licensed' ? (sheet.txMHz ?? NaN) : sheet.centreMHz;
    const joined = sheet.role === 'station' && sheet.band !== 'licensed' ? this.tuned : undefined;
    return joined ?? { centreMHz: own, widthMHz: sheet.widthMHz, protocol: sheet.protocol, coded: this.coded() };
  }

  private receiveCarrier(): Carrier {
    const { sheet } = this;
    const centreMHz = sheet.band === 'licensed' ? (sheet.rxMHz ?? NaN) : sheet.centreMHz;
    return { centreMHz, widthMHz: sheet.widthMHz, protocol: sheet.protocol, coded: this.coded() };
  }

  private coded(): boolean {
    return this.sheet.band === 'licensed' && this.sheet.errorCorrection;
  }

  /** A slot protocol numbers its slots for one station or for many. */
  private slotMap(): string | undefined {
    if (this.sheet.protocol !== 'slots') return undefined;
    return this.sheet.ptpOnly ? 'two slots' : 'eight slots';
  }

  /** Stands in for the four-way handshake: proves knowledge of the passphrase without sending it. */
  private prove(nonce: string): string {
    return createHmac('sha256', this.sheet.passphrase ?? '')
      .update(`${this.sheet.networkName}|${nonce}`)
      .digest('hex');
  }

  private frame(kind: EthernetFrame['kind'], targetAddress: string): EthernetFrame {
    return { kind, targetAddress, senderAddress: this.sheet.address, senderMac: this.mac };
  }

  private sendEthernet(ethernet: EthernetFrame): void {
    if (this.state === 'linked') this.send('ethernet', '*', { ethernet });
  }

  private send(kind: Frame['kind'], to: string, body: FrameBody): void {
    this.air.transmit(this.sendCarrier(), { kind, from: this.mac, to, body });
  }

  private say(what: string): void {
    this.air.note(this.label, what);
  }
}

/** What a greeting proves the passphrase over: who calls whom. */
function greetingNonce(from: string, to: string): string {
  return `${plainMac(from)}>${plainMac(to)}`;
}

/** Labels write hardware addresses in capitals or with hyphens; on the air they are numbers. */
function plainMac(mac: string): string {
  return mac.toLowerCase().replaceAll('-', ':');
}
