import { symbolRateShare } from '../radio/kinds/narrowband';
import { inKHz, isSamePair, type Licence } from './licence';

/** One end of a licensed pair, as far as its licence is about it. */
export interface LicensedEnd {
  place: { id: string; name: string };
  /** what it sends on */
  sendsMHz: number;
  /** what its spec sheet says that it occupies of the spacing; left out: nothing */
  occupiedPercent: number | undefined;
}

/** What a licence says against a plan: it must not be so, or nobody can tell. */
export interface LicenceFault {
  state: 'fails' | 'thin';
  words: string;
}

/** What speaks against two ends by the licence that they are planned by: the wrong end sends high, another place, gear that occupies more than it allows. */
export function licenceFaults(licence: Licence, ends: readonly LicensedEnd[], widthMHz: number): LicenceFault[] {
  return [...siteFaults(licence, ends), ...occupiedFaults(licence, ends, widthMHz)];
}

function siteFaults({ number, lowPlaceId, highPlaceId }: Licence, ends: readonly LicensedEnd[]): LicenceFault[] {
  const [low, high] = [...ends].sort((a, b) => a.sendsMHz - b.sendsMHz);
  if (!low || !high) return [];
  const fails = (words: string): LicenceFault[] => [{ state: 'fails', words }];
  if (lowPlaceId === high.place.id || highPlaceId === low.place.id)
    return fails(`the ends are swapped: by the licence ${number} ${low.place.name} sends on the higher frequency`);
  const isElsewhere = (placeId: string | null, { place }: LicensedEnd): boolean =>
    placeId !== null && placeId !== place.id;
  const stranger = isElsewhere(lowPlaceId, low) ? low : isElsewhere(highPlaceId, high) ? high : undefined;
  return stranger ? fails(`the licence ${number} is for another place than ${stranger.place.name}`) : [];
}

function occupiedFaults(
  { number, occupiedMHz }: Licence,
  ends: readonly LicensedEnd[],
  widthMHz: number,
): LicenceFault[] {
  if (occupiedMHz === null) return [];
  const allowed = `the licence ${number} allows ${inKHz(occupiedMHz)} to be occupied`;
  // No carrier is narrower than its symbols are many (Nyquist).
  const told = ends.map(({ occupiedPercent }) => occupiedPercent && (occupiedPercent / 100) * widthMHz);
  const most = Math.max(...told.map((occupied) => occupied ?? symbolRateShare * widthMHz));
  if (most > occupiedMHz + 1e-9) return [{ state: 'fails', words: `${allowed}, and the gear takes ${inKHz(most)}` }];
  if (told.includes(undefined))
    return [{ state: 'thin', words: `${allowed}; what the gear takes does not stand in its spec sheet` }];
  return [];
}

/** Licences for the same frequencies whose days overlap, in words: of two that hold at once nobody knows which one counts. */
export function licenceOverlaps(licences: readonly Licence[]): string[] {
  return licences.flatMap((a, i) =>
    licences
      .slice(i + 1)
      .filter((b) => isSamePair(a, b) && (a.validFrom ?? '') <= b.validUntil && (b.validFrom ?? '') <= a.validUntil)
      .map(
        (b) =>
          `${a.number} and ${b.number} are for the same frequencies, and their days overlap: correct the first or the last day, and look which one each plan has chosen.`,
      ),
  );
}
