import type { Model } from '@kivram/core/gear/model';
import type { Sheet } from '@kivram/core/pairing/sheet';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import { Air, type AirEvent } from './air';
import { StandinRadio } from './standinRadio';

export interface BenchRadio {
  label: string;
  model: Model;
  sheet: Sheet;
  /** hardware address; a radio without one on record has one that nobody can have listed */
  mac: string | null;
  /** further stations that joined this access point before */
  otherStations: number;
}

export interface BenchRun {
  associated: boolean;
  /** the link carries the network through and each radio can be reached from the other */
  linked: boolean;
  events: AirEvent[];
}

/**
 * Puts two radios on a bench, powers them access points first, and lets them find each other; then sends a frame through from cable
 * to cable, checks for an address conflict, and pings each radio from the other.
 */
export function runBench(near: BenchRadio, far: BenchRadio, law: readonly RuleSet[]): BenchRun {
  const air = new Air();
  const radios = [near, far].map(
    (r, i) => new StandinRadio(r.mac ?? `0a:00:00:00:00:0${i + 1}`, r.label, r.model, r.sheet, air, law),
  ) as [StandinRadio, StandinRadio];
  const guests = [near, far].flatMap((r, i) => guestsOf(r, i, air, law));

  for (const radio of [...radios, ...guests].sort(
    (a, b) => Number(a.sheet.role === 'station') - Number(b.sheet.role === 'station'),
  )) {
    air.wait(30); // a radio takes half a minute to boot
    radio.start();
    if (radio.mustListenFirst()) air.wait(60);
  }
  for (const station of [...guests, ...radios]) scan(station, [...radios, ...guests], air);
  for (const relay of radios) relay.greet();

  const [a, b] = radios;
  const knows = (one: StandinRadio, other: StandinRadio): boolean => one.stations.has(other.mac);
  const joined = a.sheet.role === 'relay' ? knows(a, b) && knows(b, a) : knows(a, b) || knows(b, a);
  const associated = a.state === 'linked' && b.state === 'linked' && joined;
  if (!associated) return { associated, linked: false, events: air.events };
  return { associated, linked: passes(a, b, air), events: air.events };
}

/** Stations that were there before: they know the access point's settings. */
function guestsOf(radio: BenchRadio, index: number, air: Air, law: readonly RuleSet[]): StandinRadio[] {
  if (radio.sheet.role !== 'ap') return [];
  return Array.from({ length: radio.otherStations }, (_, n) => {
    const { sheet } = radio;
    const guest: Sheet = {
      ...sheet,
      role: 'station',
      scanMHz: [],
      address: sheet.address.replace(/\d+$/, (last) => String(((Number(last) + 100 + n) % 253) + 1)),
      txMHz: sheet.rxMHz,
      rxMHz: sheet.txMHz,
    };
    return new StandinRadio(
      `02:00:00:00:1${index}:${String(n).padStart(2, '0')}`,
      `earlier station ${n + 1}`,
      radio.model,
      guest,
      air,
      law,
    );
  });
}

/** A station dwells on each carrier of its plan while the access points beacon. */
function scan(station: StandinRadio, all: StandinRadio[], air: Air): void {
  for (const carrier of station.scanPlan()) {
    station.tune(carrier);
    air.wait(0.1);
    for (const other of all) other.beacon();
  }
  station.join();
}

/** A computer behind each radio, and each radio's own address. */
function passes(a: StandinRadio, b: StandinRadio, air: Air): boolean {
  const through = (from: StandinRadio, to: StandinRadio): boolean => {
    let arrived = false;
    to.port = (frame) => {
      arrived ||= frame.kind === 'broadcast';
    };
    from.fromCable({
      kind: 'broadcast',
      targetAddress: '255.255.255.255',
      senderAddress: '0.0.0.0',
      senderMac: '02:00:00:00:00:aa',
    });
    return arrived;
  };
  const carries = through(a, b) && through(b, a);
  air.note(
    'cable to cable',
    carries ? 'a frame passes both ways' : 'frames do not pass: one end routes instead of bridging',
  );
  const conflict = a.probeAddress() || b.probeAddress();
  if (conflict) air.note('both radios', `answer to ${a.sheet.address}`);
  const reached = !conflict && a.ping(b.sheet.address) && b.ping(a.sheet.address);
  if (!conflict) air.note('ping', reached ? 'each radio answers the other' : 'the radios cannot reach each other');
  return carries && !conflict && reached;
}
