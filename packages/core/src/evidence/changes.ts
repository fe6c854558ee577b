import { ends, type End } from '../budget';
import { solveGeodesic } from '../geodesy';
import type { Basis, RadioBasis, SheetBasis } from './basis';

/** The steps whose state rests on something that was done. */
export type ProvenStep = 'bench' | 'mount' | 'aim' | 'prove';

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

function airChanges({ air: then }: Basis, { air: now }: Basis): string[] {
  if (!then || !now) return [];
  const words: string[] = [];
  const say = (what: string, before: unknown, after: unknown, unit = ''): void => {
    if (before !== after) words.push(`${what} ${String(before)} to ${String(after)}${unit}`);
  };
  if (then.kind !== now.kind) words.push('how the radios share the channel');
  say('channel', then.centreMHz, now.centreMHz, ' MHz');
  say('second frequency', then.returnMHz ?? 'none', now.returnMHz ?? 'none', now.returnMHz === null ? '' : ' MHz');
  say('width', then.widthMHz, now.widthMHz, ' MHz');
  say('protocol', then.protocol, now.protocol);
  say('error correction', onOff(then.errorCorrection), onOff(now.errorCorrection));
  return words;
}

function radioChanges(step: ProvenStep, then: RadioBasis, now: RadioBasis): string[] {
  const words: string[] = [];
  const say = (what: string, before: unknown, after: unknown, unit = ''): void => {
    if (before !== after) words.push(`${what} ${String(before)} to ${String(after)}${unit}`);
  };
  if (then.modelId !== now.modelId) words.push('model');
  else if (then.modelRevision !== now.modelRevision) words.push('spec sheet of the model');
  if (step === 'bench') {
    if ((then.sheet?.revision ?? 0) !== (now.sheet?.revision ?? 0)) words.push('settings');
    say('power', then.conductedDbm, now.conductedDbm, ' dBm');
    return words;
  }
  const distanceM = solveGeodesic(then, now).distanceM;
  if (distanceM > movedM) words.push(`place moved ${distanceM.toFixed(0)} m`);
  if (Math.abs(then.groundHeightM - now.groundHeightM) > heightM) {
    say('ground', then.groundHeightM, now.groundHeightM, ' m');
  }
  if (Math.abs(then.mountHeightM - now.mountHeightM) > heightM) {
    say('mount height', then.mountHeightM, now.mountHeightM, ' m');
  }
  say('polarisation', then.polarisation, now.polarisation);
  say('direction', then.azimuthDeg ?? 'at the other end', now.azimuthDeg ?? 'at the other end');
  say('tilt', then.tiltDeg ?? 'at the other end', now.tiltDeg ?? 'at the other end');
  if (step === 'mount') return words;
  say('power', then.conductedDbm, now.conductedDbm, ' dBm');
  say('cable loss', then.cableLossDb, now.cableLossDb, ' dB');
  if (then.sheet && now.sheet) words.push(...sheetChanges(then.sheet, now.sheet));
  return words;
}

/** A sheet saved again with another device name sends and hears as before. */
function sheetChanges(then: SheetBasis, now: SheetBasis): string[] {
  const fields: [keyof SheetBasis, string][] = [
    ['centreMHz', 'channel'],
    ['widthMHz', 'width'],
    ['protocol', 'protocol'],
    ['conductedDbm', 'power'],
    ['txMHz', 'sending frequency'],
    ['rxMHz', 'hearing frequency'],
  ];
  return fields
    .filter(([key]) => then[key] !== now[key])
    .map(([key, word]) => `${word} in the settings ${String(then[key] ?? 'none')} to ${String(now[key] ?? 'none')}`);
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

function onOff(value: boolean): string {
  return value ? 'on' : 'off';
}
