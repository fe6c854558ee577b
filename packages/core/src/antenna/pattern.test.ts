import { describe, expect, it } from 'vitest';
import { parseNsma } from './nsma';
import { cutWidthDeg, mostPatternPoints, parsePatternCsv, PatternError, patternLossDb } from './pattern';

/** A cut of an evenly lit line of so many wavelengths, whose pattern is sinc^2 (Balanis, Antenna Theory, chapter 12): half-power width 0.886 / length rad. */
function sincCut(wavelengths: number, stepDeg: number): { angleDeg: number; lossDb: number }[] {
  const points = [];
  for (let angleDeg = -180; angleDeg <= 180 + 1e-9; angleDeg += stepDeg) {
    const x = Math.PI * wavelengths * Math.sin((angleDeg * Math.PI) / 180);
    const amplitude = Math.abs(angleDeg) > 90 ? 1e-3 : Math.abs(x) < 1e-9 ? 1 : Math.abs(Math.sin(x) / x);
    points.push({ angleDeg: Number(angleDeg.toFixed(3)), lossDb: Math.min(60, -20 * Math.log10(amplitude)) });
  }
  return points;
}

/** The same as a file in the format of NSMA WG16.99.050. */
function nsmaFile(changes: Record<string, string> = {}, cut = sincCut(10, 1)): string {
  const head = {
    REVNUM: 'NSMA WG16.99.050',
    REVDAT: '19990520',
    ANTMAN: 'Marten',
    MODNUM: 'M 23',
    LOWFRQ: '5150',
    HGHFRQ: '5850',
    GUNITS: 'DBI/DBR',
    LWGAIN: '22.4',
    MDGAIN: '23.0',
    HGGAIN: '23.4',
    AZWIDT: '5.1',
    ELWIDT: '5.1',
    NUMCUT: '2',
    ...changes,
  };
  const block = (name: string, polarisation: string, plusDb: number): string[] => [
    `PATCUT:,${name}`,
    `POLARI:,${polarisation}`,
    `NUPOIN:,${cut.length}`,
    `FSTLST:,${cut[0]?.angleDeg ?? 0},${cut.at(-1)?.angleDeg ?? 0}`,
    ...cut.map((p) => `${p.angleDeg},${(plusDb - p.lossDb).toFixed(3)},,`),
  ];
  return [
    ...Object.entries(head).map(([key, value]) => `${key}:,${value}`),
    ...block('AZ', 'V/V', 0),
    ...block('AZ', 'V/H', 10),
    ...block('EL', 'V/V', 0),
    'ENDFIL:,EOF',
  ].join('\r\n');
}

describe('an antenna in the NSMA format', () => {
  const antenna = parseNsma(nsmaFile());

  it('says who made it, its gain and its widths', () => {
    expect(antenna).toMatchObject({
      maker: 'Marten',
      model: 'M 23',
      gainDbi: 23,
      lowestMHz: 5150,
      azimuthWidthDeg: 5.1,
    });
    expect(parseNsma(nsmaFile({ GUNITS: 'DBD/DBR' })).gainDbi).toBeCloseTo(25.15, 9);
    expect(parseNsma(nsmaFile({ MDGAIN: '', LWGAIN: '', HGGAIN: '' })).gainDbi).toBeNull();
  });

  it('has the cuts of the same polarisation, and not what leaks into the other', () => {
    expect(patternLossDb(antenna.pattern, 0, 0)).toBeCloseTo(0, 6);
    const first = sincCut(10, 1).find((p) => p.angleDeg === 8)?.lossDb ?? NaN;
    expect(patternLossDb(antenna.pattern, 8, 0)).toBeCloseTo(first, 2);
  });

  it('is as wide as theory says: 0.886 of a wavelength over the aperture', () => {
    const theory = (180 / Math.PI) * 2 * Math.asin(0.443 / 10);
    expect(cutWidthDeg(parseNsma(nsmaFile({}, sincCut(10, 0.1))).pattern.azimuth)).toBeCloseTo(theory, 1);
  });

  it('is kept in few points that differ from the many by little', () => {
    const many = sincCut(30, 0.1);
    const { pattern } = parseNsma(nsmaFile({}, many));
    expect(pattern.azimuth.length).toBeLessThanOrEqual(mostPatternPoints);
    const off = many.map((p) => Math.abs(patternLossDb(pattern, p.angleDeg, 0) - p.lossDb)).sort((a, b) => a - b);
    expect(off[Math.floor(0.9 * off.length)]).toBeLessThan(2);
    for (const p of many.filter((point) => Math.abs(point.angleDeg) < 1.5))
      expect(Math.abs(patternLossDb(pattern, p.angleDeg, 0) - p.lossDb)).toBeLessThan(0.5);
  });

  it.each<[string, string, string]>([
    ['another file', 'name,lat,lon\n', 'REVNUM'],
    ['an unknown cut', nsmaFile().replace('PATCUT:,AZ', 'PATCUT:,45'), '"45" is no cut'],
    ['no number of points', nsmaFile().replace(/NUPOIN:,\d+/, 'NUPOIN:,x'), 'is no number of points'],
    ['fewer points than it says', nsmaFile().replace(/NUPOIN:,\d+/, 'NUPOIN:,9000'), 'is no point of a cut'],
    ['points of no cut', nsmaFile().replace('PATCUT:,AZ', 'COMNT1:,AZ'), 'before it is said of which cut'],
    ['no cut up and down', nsmaFile().replace('PATCUT:,EL', 'PATCUT:,AZ'), 'elevation cut has 0 points'],
  ])('with %s is refused in words', (_, text, words) => {
    expect(() => parseNsma(text)).toThrow(PatternError);
    expect(() => parseNsma(text)).toThrow(words);
  });
});

describe('a pattern as a table', () => {
  const rows = [
    ['az', 0, 0],
    ['az', 5, -3],
    ['az', 355, -3],
    ['az', 90, -20],
    ['az', 270, -20],
    ['az', 180, -30],
    ['el', -10, -3],
    ['el', 0, 0],
    ['el', 10, -3],
  ];
  const table = (mark: string, sign: number): string =>
    ['cut,angle,level', ...rows.map(([cut, angle, level]) => [cut, angle, sign * Number(level)].join(mark))].join('\n');

  it('is the same with commas, tabs and blanks, in gains and in losses, to 180 and to 360 degrees', () => {
    const pattern = parsePatternCsv(table(',', 1));
    for (const text of [table('\t', 1), table(' ', 1), table(';', -1)]) expect(parsePatternCsv(text)).toEqual(pattern);
    expect(cutWidthDeg(pattern.azimuth)).toBeCloseTo(10, 9);
    expect(cutWidthDeg(pattern.elevation)).toBeCloseTo(20, 9);
    expect(patternLossDb(pattern, -90, 0)).toBeCloseTo(20, 9);
    expect(patternLossDb(pattern, -180, 0)).toBeCloseTo(30, 9);
    expect(patternLossDb(pattern, 180, 5)).toBeCloseTo(30, 9);
  });

  it.each([
    ['az,0,0\naz,x,1', 'Line 2'],
    ['az,0,0\nup,1,1', 'Line 2'],
    ['az,0,0\naz,1,-3\naz,-1,-3', 'elevation cut has 0 points'],
    ['az,0,0\naz,900,-3\naz,-1,-3\nel,0,0\nel,1,-3\nel,-1,-3', 'an angle of 900'],
  ])('%j is refused, naming it', (text, words) => {
    expect(() => parsePatternCsv(text)).toThrow(words);
  });
});
