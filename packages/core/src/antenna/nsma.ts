import { patternOf, PatternError, type AntennaPattern, type PatternPoint } from './pattern';

/** What a file in NSMA's standard format says of an antenna. */
export interface NsmaAntenna {
  maker: string;
  model: string;
  /** at the middle of its band, dBi; null where the file does not say */
  gainDbi: number | null;
  lowestMHz: number | null;
  highestMHz: number | null;
  azimuthWidthDeg: number | null;
  elevationWidthDeg: number | null;
  pattern: AntennaPattern;
}

/** A dipole's gain over a point source, which GUNITS "DBD" counts from. */
const dipoleDbi = 2.15;

/**
 * Reads an antenna in the text format of NSMA recommendation WG16.99.050 ("Antenna Systems - Standard Format for Digitized Antenna Patterns", 1999): lines of a keyword
 * of six letters and a colon, then values between commas; each cut is a PATCUT with a POLARI and NUPOIN lines of angle, level and phase. Of several co-polar cuts of one plane each angle takes
 * the stronger. The keywords are from memory.
 * @throws PatternError naming the line
 */
export function parseNsma(text: string): NsmaAntenna {
  const lines = text.split(/\r\n|\r|\n/).map((line) => line.trim());
  if (!lines.slice(0, 5).some((line) => /^REVNUM:/i.test(line)))
    throw new PatternError('This is no antenna in the NSMA format: its first line should begin with REVNUM:');
  const said = new Map<string, string[]>();
  const cuts: Record<'AZ' | 'EL', Map<number, number>> = { AZ: new Map(), EL: new Map() };
  let cut: 'AZ' | 'EL' | null = null;
  let copolar = true;
  for (let i = 0; i < lines.length; i++) {
    const [, keyword = '', rest = ''] = /^([A-Z0-9]{6}):,?(.*)$/i.exec(lines[i] ?? '') ?? [];
    const values = rest.split(',').map((value) => value.trim());
    const key = keyword.toUpperCase();
    if (key === 'PATCUT') {
      const name = (values[0] ?? '').toUpperCase();
      if (!/^(AZ|H|EL|V)/.test(name))
        throw new PatternError(`Line ${i + 1}: "${values[0] ?? ''}" is no cut; AZ and EL are.`);
      cut = /^(AZ|H)/.test(name) ? 'AZ' : 'EL';
    } else if (key === 'POLARI') {
      // The polarisation of the test antenna and that of the source; where both are alike the cut is co-polar.
      const [of = '', by = ''] = (values[0] ?? '').toUpperCase().split('/');
      copolar = !by || of === by;
    } else if (key === 'NUPOIN') {
      const count = Number(values[0]);
      if (!Number.isInteger(count) || count < 1 || count > 10_000)
        throw new PatternError(`Line ${i + 1}: "${values[0] ?? ''}" is no number of points.`);
      if (!cut) throw new PatternError(`Line ${i + 1}: points come before it is said of which cut they are (PATCUT).`);
      i = skipPast(lines, i);
      for (const end = i + count; i < end;) {
        i++;
        const [angle = '', level = ''] = (lines[i] ?? '').split(',').map((value) => value.trim());
        if (!angle || !level || Number.isNaN(Number(angle)) || Number.isNaN(Number(level)))
          throw new PatternError(
            `Line ${i + 1}, "${(lines[i] ?? '').slice(0, 60)}", is no point of a cut: an angle and a level are.`,
          );
        const known = cuts[cut].get(Number(angle));
        if (copolar && (known === undefined || known < Number(level))) cuts[cut].set(Number(angle), Number(level));
      }
    } else if (key && !said.has(key)) said.set(key, values);
  }
  const number = (key: string): number | null => {
    const value = Number(said.get(key)?.[0] || NaN);
    return Number.isFinite(value) ? value : null;
  };
  const points = (of: 'AZ' | 'EL'): PatternPoint[] => {
    // Levels may be gains in dBi; cutOf puts the peak at 0 dB.
    return [...cuts[of]].map(([angleDeg, level]) => ({ angleDeg, lossDb: level }));
  };
  const gain = number('MDGAIN') ?? number('HGGAIN') ?? number('LWGAIN');
  const overDipole = /^DBD/i.test(said.get('GUNITS')?.[0] ?? '');
  return {
    maker: said.get('ANTMAN')?.[0] ?? '',
    model: said.get('MODNUM')?.[0] ?? '',
    gainDbi: gain === null ? null : overDipole ? gain + dipoleDbi : gain,
    lowestMHz: number('LOWFRQ'),
    highestMHz: number('HGHFRQ'),
    azimuthWidthDeg: number('AZWIDT'),
    elevationWidthDeg: number('ELWIDT'),
    pattern: patternOf(points('AZ'), points('EL')),
  };
}

/** FSTLST, XORIEN and YORIEN stand between the count of points and the points. */
function skipPast(lines: readonly string[], at: number): number {
  let i = at;
  while (/^[A-Z0-9]{6}:/i.test(lines[i + 1] ?? '')) i++;
  return i;
}
