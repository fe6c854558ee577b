import { ends, type End } from '../budget/plan';
import { solveGeodesic } from '../geodesy/geodesic';
import { polarisationWords, type Polarisation } from '../path/polarisation';
import { protocolWords, type Protocol } from '../radio/kinds';
import type { Basis, RadioBasis, SheetBasis } from './basis';

/** The steps whose state rests on something that was done. */
export const provenSteps = ['bench', 'mount', 'aim', 'prove'] as const;
export type ProvenStep = (typeof provenSteps)[number];

/** A place that moves by less than this is the same place, told more exactly. */
const movedM = 1;

/** A height told more exactly than by this changes nothing that was seen. */
const heightM = 0.5;

/**
 * How far a predicted level may drift before a level that was measured against it is looked at again, dB: well inside the 3 dB by which a level is judged,
 * and more than a year's growth of a tree.
 */
const driftDb = 1.5;

/**
 * What has changed since evidence was true, in words, for the step that rests on it. Empty: it still stands.
 * Pairing rests on settings and channel, a mount on where and how it hangs, a level and a throughput on all of it.
 */
export function changedSince(step: ProvenStep, then: Basis, now: Basis): string[] {
  const words: string[] = [];
  if (step !== 'mount') words.push(...airChanges(then, now));
  for (const end of ends) {
    const [before, after] = [then[end], now[end]];
    if (!before || !after) continue;
    words.push(...radioChanges(step, before, after).map((change) => `${end} ${change}`));
  }
  if (step === 'aim' || step === 'prove') {
    if (JSON.stringify(then.shaft ?? null) !== JSON.stringify(now.shaft ?? null)) words.push('the ride of the car');
    words.push(...driftOf(then, now));
  }
  return words;
}

/** What was not written down is not compared. */
function say(words: string[], what: string, before: unknown, after: unknown, unit = ''): void {
  if (before === undefined || before === after) return;
  const told = (value: unknown): string => (value === null ? 'none' : String(value));
  words.push(`${what} ${told(before)} to ${told(after)}${after === null ? '' : unit}`);
}

function airChanges({ air: then }: Basis, { air: now }: Basis): string[] {
  if (!then || !now) return [];
  const words: string[] = [];
  if (then.kind !== undefined && then.kind !== now.kind) words.push('how the radios share the channel');
  say(words, 'channel', then.centreMHz, now.centreMHz, ' MHz');
  say(words, 'second frequency', then.returnMHz, now.returnMHz, ' MHz');
  say(words, 'width', then.widthMHz, now.widthMHz, ' MHz');
  say(words, 'protocol', spoken(then.protocol), spoken(now.protocol));
  say(words, 'fastest modulation of the licence', then.modulation, now.modulation ?? null);
  say(words, 'error correction', onOff(then.errorCorrection), onOff(now.errorCorrection));
  return words;
}

function radioChanges(step: ProvenStep, then: RadioBasis, now: RadioBasis): string[] {
  const words: string[] = [];
  if (then.modelId !== now.modelId) words.push('model');
  else if (then.modelRevision !== now.modelRevision) words.push('spec sheet of the model');
  if (step === 'bench') {
    if ((then.sheet?.revision ?? 0) !== (now.sheet?.revision ?? 0)) words.push('settings');
    say(words, 'power', then.conductedDbm, now.conductedDbm, ' dBm');
    return words;
  }
  const distanceM = solveGeodesic(then, now).distanceM;
  if (distanceM > movedM) words.push(`place moved ${distanceM.toFixed(0)} m`);
  if (Math.abs(then.groundHeightM - now.groundHeightM) > heightM)
    say(words, 'ground', then.groundHeightM, now.groundHeightM, ' m');
  if (Math.abs(then.mountHeightM - now.mountHeightM) > heightM)
    say(words, 'mount height', then.mountHeightM, now.mountHeightM, ' m');
  say(words, 'polarisation', swung(then.polarisation), swung(now.polarisation));
  say(words, 'direction', pointed(then.azimuthDeg), pointed(now.azimuthDeg));
  say(words, 'tilt', pointed(then.tiltDeg), pointed(now.tiltDeg));
  if (step === 'mount') return words;
  say(words, 'power', then.conductedDbm, now.conductedDbm, ' dBm');
  say(words, 'cable loss', then.cableLossDb, now.cableLossDb, ' dB');
  if (then.sheet && now.sheet) words.push(...sheetChanges(then.sheet, now.sheet));
  return words;
}

/** A sheet saved again with another device name sends and hears as before. */
function sheetChanges(then: SheetBasis, now: SheetBasis): string[] {
  const fields: [keyof SheetBasis, string, unit: string][] = [
    ['centreMHz', 'channel', ' MHz'],
    ['widthMHz', 'width', ' MHz'],
    ['protocol', 'protocol', ''],
    ['conductedDbm', 'power', ' dBm'],
    ['txMHz', 'sending frequency', ' MHz'],
    ['rxMHz', 'hearing frequency', ' MHz'],
  ];
  const words: string[] = [];
  for (const [key, word, unit] of fields) {
    const told = (sheet: SheetBasis): unknown => (key === 'protocol' ? spoken(sheet.protocol) : sheet[key]) ?? null;
    if (then[key] !== now[key]) say(words, `${word} in the settings`, told(then), told(now), unit);
  }
  return words;
}

/** What is known of the ground and the trees changed the prediction itself. */
function driftOf({ expectedDbm: then }: Basis, { expectedDbm: now }: Basis): string[] {
  if (!then || !now) return [];
  const drift = (end: End): number => Math.abs(now[end] - then[end]);
  const end = drift('near') > drift('far') ? 'near' : 'far';
  return drift(end) > driftDb
    ? [`level predicted at the ${end} end ${then[end].toFixed(1)} to ${now[end].toFixed(1)} dBm`]
    : [];
}

/** Where an antenna points, in words. */
function pointed(angleDeg: number | null | undefined): string {
  return angleDeg === null || angleDeg === undefined ? 'at the other end' : `${angleDeg}°`;
}

function swung(polarisation: Polarisation | undefined): string | undefined {
  return polarisation && polarisationWords[polarisation];
}

function spoken(protocol: Protocol | undefined): string | undefined {
  return protocol && protocolWords[protocol];
}

function onOff(value: boolean | undefined): string | undefined {
  return value === undefined ? undefined : value ? 'on' : 'off';
}
