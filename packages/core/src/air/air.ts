import type { Protocol } from '../radio/kinds';
import type { Channel } from '../spectrum/channel';
import type { SpectrumUse } from '../spectrum/ruleSet';

/**
 * How radios share a piece of spectrum: two of them (`pair`), one access point with its stations (`hub`), relays with one radio each that pass
 * everything on (`chain`), or two on a licensed pair of frequencies that send at the same time (`duplex`).
 */
export const airKinds = ['pair', 'hub', 'chain', 'duplex'] as const;
export type AirKind = (typeof airKinds)[number];

/** What a radio is on its air. The access radio sends on the air's own channel, and on a hub everything passes through it. */
export const airRoles = ['access', 'station', 'relay'] as const;
export type AirRole = (typeof airRoles)[number];

/** The spectrum that a set of radios shares, with everything about it that they must agree on. */
export interface Air {
  kind: AirKind;
  /** what the access radio sends on; everybody, unless both directions run at once */
  centreMHz: number;
  /** what the other end of a licensed pair sends on; null where directions take turns on one channel */
  returnMHz: number | null;
  widthMHz: number;
  protocol: Protocol;
  /** licensed narrowband: spends a part of the rate on range */
  errorCorrection: boolean;
  /** of a licensed pair: the licence that it is planned by; null or left out: none */
  licenceId?: string | null;
}

/** The channel on which a radio of this role sends. */
export function sendingChannel({ centreMHz, returnMHz, widthMHz }: Air, role: AirRole): Channel {
  return { centreMHz: returnMHz !== null && role !== 'access' ? returnMHz : centreMHz, widthMHz };
}

/** What the law sees in an air. */
export function spectrumUse({ kind }: Pick<Air, 'kind'>, outdoor: boolean): SpectrumUse {
  return { pointToPoint: kind === 'pair' || kind === 'duplex', outdoor };
}

/** Why an air of this kind cannot be, or undefined. */
export function airProblem(air: Air): string | undefined {
  if (air.licenceId && air.kind !== 'duplex') return 'Only a licensed pair is planned by a licence: leave it out.';
  if (air.kind === 'duplex') {
    if (air.returnMHz === null) return 'A licensed pair needs two frequencies: say what the far end sends on.';
    const apartMHz = Math.abs(air.returnMHz - air.centreMHz);
    if (apartMHz < air.widthMHz) {
      return `${air.centreMHz} and ${air.returnMHz} MHz lie ${Number(apartMHz.toFixed(6))} MHz apart, less than the channel spacing: the ends would hear themselves.`;
    }
    return undefined;
  }
  return air.returnMHz === null
    ? undefined
    : 'Only a licensed pair has a second frequency: leave it out, or choose gear for a licensed pair.';
}
