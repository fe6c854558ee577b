import { narrowbandStepNames } from '../radio/kinds/narrowband';
import type { SpectrumRule } from './ruleSet';

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
  /** the last day on which it holds, as in 2026-01-31 */
  validUntil: string;
  terms: string;
}

/** Frequencies as they are typed differ by less than this, MHz. */
const sameMHz = 1e-4;

/** What a licence sees in an air. */
interface LicensedAir {
  kind: string;
  centreMHz: number;
  returnMHz: number | null;
  widthMHz: number;
}

/** The licence that covers an air's two frequencies, whichever end sends which. */
export function licenceFor<L extends Licence>(air: LicensedAir, licences: readonly L[]): L | undefined {
  if (air.kind !== 'duplex' || air.returnMHz === null) return undefined;
  const same = (a: number, b: number): boolean => Math.abs(a - b) < sameMHz;
  const { centreMHz, returnMHz, widthMHz } = air;
  const fitting = licences.filter(
    (l) =>
      widthMHz <= l.widthMHz + 1e-9 &&
      ((same(l.centreMHz, centreMHz) && same(l.returnMHz, returnMHz)) ||
        (same(l.centreMHz, returnMHz) && same(l.returnMHz, centreMHz))),
  );
  // Of an old one and its successor the one that holds longer.
  return fitting.sort((a, b) => b.validUntil.localeCompare(a.validUntil))[0];
}

/** A licence in the form of rules: its two frequencies, before all that the country says. */
export function licenceRules(licence: Licence): SpectrumRule[] {
  const { number, validUntil, widthMHz, mostEirpDbm, centreMHz, returnMHz } = licence;
  return [centreMHz, returnMHz].map((at) => ({
    lowestMHz: at - widthMHz / 2 - sameMHz,
    highestMHz: at + widthMHz / 2 + sameMHz,
    mostEirpDbm,
    radar: false,
    licensed: true,
    mostWidthMHz: widthMHz,
    layer: 'local' as const,
    source: `licence ${number}, valid until ${validUntil}`,
  }));
}

/** Days before its end from which on a licence warns. */
const licenceWarnsDays = 60;

const dayMs = 86_400_000;

/** How long a licence still holds. @param today as in 2026-01-31 @returns days that are left, the last one among them; 0 and less: it is over */
export function licenceDaysLeft({ validUntil }: Pick<Licence, 'validUntil'>, today: string): number {
  return Math.round((Date.parse(validUntil) - Date.parse(today)) / dayMs) + 1;
}

/** How a licence stands: over, soon to be renewed, or well. */
export type LicenceStanding = 'ended' | 'ending' | 'valid';

export function licenceStanding(daysLeft: number): LicenceStanding {
  if (daysLeft <= 0) return 'ended';
  return daysLeft <= licenceWarnsDays ? 'ending' : 'valid';
}

/** The fastest step that a licence allows; Infinity where it names none. */
export function licensedStep(licence: Licence | null | undefined): number {
  const at = licence?.modulation ? narrowbandStepNames.indexOf(licence.modulation) : -1;
  return at < 0 ? Infinity : at;
}
