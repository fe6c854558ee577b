import { narrowbandStepNames } from '../radio/kinds/narrowband';
import { dateText } from '../units/moment';
import type { Channel } from './channel';

/** What a licence for a pair of frequencies says. */
export interface Licence {
  number: string;
  holder: string;
  /** what one end sends, and the other */
  centreMHz: number;
  returnMHz: number;
  /** channel spacing */
  widthMHz: number;
  /** null: as wide as the spacing */
  occupiedMHz: number | null;
  mostEirpDbm: number;
  /** the fastest modulation that it allows; null: any */
  modulation: string | null;
  /** the first day on which it holds, as in 2026-01-31; null: not told */
  validFrom: string | null;
  /** the last one */
  validUntil: string;
  /** the places that it is for: the one that sends on the lower frequency, and on the higher; null: not told */
  lowPlaceId: string | null;
  highPlaceId: string | null;
  terms: string;
}

/** Frequencies as they are typed differ by less than this, MHz. */
const sameMHz = 1e-4;
const same = (a: number, b: number): boolean => Math.abs(a - b) < sameMHz;

/** Days before its end from which on a licence warns. */
const licenceWarnsDays = 60;

const dayMs = 86_400_000;

/** How long a licence still holds. @param day as in 2026-01-31 @returns days that are left, the last one among them; 0 and less: it is over */
export function licenceDaysLeft({ validUntil }: Pick<Licence, 'validUntil'>, day: string): number {
  return Math.round((Date.parse(validUntil) - Date.parse(day)) / dayMs) + 1;
}

/** How a licence stands: not begun, over, soon to be renewed, or well. */
export type LicenceStanding = 'coming' | 'ended' | 'ending' | 'valid';

export function licenceStanding(licence: Pick<Licence, 'validFrom' | 'validUntil'>, day: string): LicenceStanding {
  if (licence.validFrom !== null && licence.validFrom > day) return 'coming';
  const daysLeft = licenceDaysLeft(licence, day);
  if (daysLeft <= 0) return 'ended';
  return daysLeft <= licenceWarnsDays ? 'ending' : 'valid';
}

/** Why nobody may send on a channel by a licence on a day, in words that begin small; undefined where one may. */
export function licenceRefusal(licence: Licence | null | undefined, channel: Channel, day: string): string | undefined {
  if (!licence) return `no licence is chosen for ${channel.centreMHz} MHz, and nobody may send there without one`;
  const { number, centreMHz, returnMHz, widthMHz, validFrom, validUntil } = licence;
  const standing = licenceStanding(licence, day);
  if (standing === 'ended') return `the licence ${number} ended on ${dateText(validUntil)}`;
  if (standing === 'coming') return `the licence ${number} begins on ${dateText(validFrom ?? '')}`;
  if (!same(channel.centreMHz, centreMHz) && !same(channel.centreMHz, returnMHz))
    return `the licence ${number} is for ${centreMHz} and ${returnMHz} MHz, not for ${channel.centreMHz} MHz`;
  if (channel.widthMHz > widthMHz + 1e-9)
    return `the licence ${number} has channels of ${inKHz(widthMHz)}, and this one takes ${inKHz(channel.widthMHz)}`;
  return undefined;
}

/** The fastest step that a licence allows; Infinity where it names none. */
export function licensedStep(licence: Licence | null | undefined): number {
  const at = licence?.modulation ? narrowbandStepNames.indexOf(licence.modulation) : -1;
  return at < 0 ? Infinity : at;
}

/** What a licence sees in an air. */
interface LicensedAir {
  kind: string;
  centreMHz: number;
  returnMHz: number | null;
  widthMHz: number;
}

/** The licence among some that covers both frequencies of an air, whichever end sends which; of several the one that holds longest. */
export function coveringLicence<L extends Licence>(air: LicensedAir, licences: readonly L[]): L | undefined {
  const { kind, centreMHz, returnMHz, widthMHz } = air;
  if (kind !== 'duplex' || returnMHz === null) return undefined;
  return licences
    .filter((l) => widthMHz <= l.widthMHz + 1e-9 && isSamePair(l, { centreMHz, returnMHz }))
    .sort((a, b) => b.validUntil.localeCompare(a.validUntil))[0];
}

/** Two frequencies, whichever end sends which. */
type FrequencyPair = Pick<Licence, 'centreMHz' | 'returnMHz'>;

/** Whether two pairs of frequencies are one. */
export function isSamePair(a: FrequencyPair, b: FrequencyPair): boolean {
  return (
    (same(a.centreMHz, b.centreMHz) && same(a.returnMHz, b.returnMHz)) ||
    (same(a.centreMHz, b.returnMHz) && same(a.returnMHz, b.centreMHz))
  );
}

/** A width as licences name it. */
export function inKHz(mhz: number): string {
  return `${Number((1000 * mhz).toFixed(3))} kHz`;
}
