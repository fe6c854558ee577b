import { cutWidthDeg } from '../antenna/pattern';
import { noiseDbm } from '../propagation/noise';
import { radioKinds } from '../radio/kinds';
import type { Band, Model } from './model';
import type { PoeKind } from './poe';

/** Something in a spec sheet that cannot be, or hardly, with the mistake that is likely behind it. */
export interface SpecFinding {
  severity: 'forbids' | 'warns';
  /** the field that it is about */
  field: keyof Model;
  reason: string;
  /** what was likely meant, to be taken over */
  likely?: Partial<Model>;
}

/** Where a band lies, MHz: what any country gives it. Common practice, no source; 60 GHz from IEEE 802.11-2020 annex E, from memory. */
const bandEdges: Record<Band, [number, number]> = {
  '2.4GHz': [2300, 2550],
  '5GHz': [4900, 7125],
  '60GHz': [57000, 71000],
  licensed: [100, 100000],
};

/**
 * What gain the beam widths allow: 31,000 over their product in degrees. A lossless beam that fills nothing but its widths has 41,253; practical antennas reach about
 * 26,000 to 32,000 (Stutzman and Thiele, Antenna Theory and Design, section on directivity estimates; from memory).
 */
const beamProductDeg2 = 31_000;

/** More gain than the rule allows by less than this is rounding on the maker's side, dB. */
const gainSlackDb = 1;

/** What each kind of supply delivers at the device, W: IEEE 802.3-2018 table 33-18 and 802.3bt-2018 table 145-26, from memory; passive supplies by common practice, no source. */
export const poeDeliversW: Record<PoeKind, number> = {
  passive24: 24,
  passive48: 48,
  '802.3af': 12.95,
  '802.3at': 25.5,
  '802.3bt': 71.3,
};

/** The most that any radio of this trade sends, dBm; who types more has typed milliwatts. Common practice, no source. */
const mostLikelyDbm = 37;

/** Looks a spec sheet over for what cannot be, and names the likely mistake. */
export function checkSpec(model: Model): SpecFinding[] {
  return [
    ...frequencyFindings(model),
    ...powerFindings(model),
    ...antennaFindings(model),
    ...stepFindings(model),
    ...restFindings(model),
  ];
}

function frequencyFindings(model: Model): SpecFinding[] {
  const { lowestMHz, highestMHz, band, widthsMHz } = model;
  const found: SpecFinding[] = [];
  if (lowestMHz >= highestMHz) {
    found.push({
      severity: 'forbids',
      field: 'highestMHz',
      reason: `It tunes from ${lowestMHz} to ${highestMHz} MHz: the highest frequency must be above the lowest.`,
      likely: lowestMHz > highestMHz ? { lowestMHz: highestMHz, highestMHz: lowestMHz } : undefined,
    });
  }
  const [low, high] = bandEdges[band];
  for (const field of ['lowestMHz', 'highestMHz'] as const) {
    const value = model[field];
    // Not typed yet.
    if (Number.isNaN(value) || (value >= low && value <= high)) continue;
    const scaled = [value / 1000, value * 1000].find((mhz) => mhz >= low && mhz <= high);
    found.push({
      severity: 'warns',
      field,
      reason: `${value} MHz lies outside of what ${band === 'licensed' ? 'radios' : `the ${band.replace('GHz', ' GHz')} band`} may have, ${low} to ${high} MHz${
        scaled === undefined
          ? '.'
          : `: were ${value > scaled ? 'kilohertz' : 'gigahertz'} typed? Then it is ${scaled} MHz.`
      }`,
      likely: scaled === undefined ? undefined : { [field]: scaled },
    });
  }
  const span = highestMHz - lowestMHz;
  const wide = widthsMHz.filter((width) => width > span && span > 0);
  if (wide.length) {
    found.push({
      severity: 'forbids',
      field: 'widthsMHz',
      reason: `A channel of ${wide.join(', ')} MHz is wider than all that it tunes, ${span} MHz${
        band === 'licensed' ? `: were kilohertz typed? Then write ${wide.map((w) => w / 1000).join(', ')}.` : '.'
      }`,
      likely: band === 'licensed' ? { widthsMHz: widthsMHz.map((w) => (w > span ? w / 1000 : w)) } : undefined,
    });
  }
  return found;
}

function powerFindings({ leastConductedDbm, mostConductedDbm, overloadDbm, band }: Model): SpecFinding[] {
  const found: SpecFinding[] = [];
  if (leastConductedDbm > mostConductedDbm) {
    found.push({
      severity: 'forbids',
      field: 'mostConductedDbm',
      reason: `Its least power, ${leastConductedDbm} dBm, is above its most, ${mostConductedDbm} dBm.`,
      likely: { leastConductedDbm: mostConductedDbm, mostConductedDbm: leastConductedDbm },
    });
  }
  if (mostConductedDbm > mostLikelyDbm && band !== 'licensed') {
    const dbm = round(10 * Math.log10(mostConductedDbm));
    found.push({
      severity: 'warns',
      field: 'mostConductedDbm',
      reason: `${mostConductedDbm} dBm is ${watts(mostConductedDbm)}: were milliwatts typed? ${mostConductedDbm} mW are ${dbm} dBm.`,
      likely: { mostConductedDbm: dbm, ...(leastConductedDbm > dbm && { leastConductedDbm: 0 }) },
    });
  }
  if (overloadDbm > 10 || overloadDbm < -60) {
    found.push({
      severity: 'warns',
      field: 'overloadDbm',
      reason: `Receivers overload between about −40 and 0 dBm; ${minus(overloadDbm)} dBm is none of theirs${overloadDbm > 10 ? ': is the sign missing?' : '.'}`,
      likely: overloadDbm > 10 ? { overloadDbm: -overloadDbm } : undefined,
    });
  }
  return found;
}

function antennaFindings({ antennaGainDbi, beamWidth, pattern }: Model): SpecFinding[] {
  const { azimuthDeg, elevationDeg } = beamWidth;
  const allowedDbi = 10 * Math.log10(beamProductDeg2 / (azimuthDeg * elevationDeg));
  const found: SpecFinding[] = [];
  if (antennaGainDbi > allowedDbi + gainSlackDb) {
    found.push({
      severity: 'warns',
      field: 'antennaGainDbi',
      reason: `Beams of ${azimuthDeg}° by ${elevationDeg}° allow about ${allowedDbi.toFixed(1)} dBi, not ${antennaGainDbi}: is a beam width half of what it is, or does the gain count both polarisations?`,
    });
  }
  if (pattern) {
    for (const [cut, width, words] of [
      [pattern.azimuth, azimuthDeg, 'around'],
      [pattern.elevation, elevationDeg, 'up and down'],
    ] as const) {
      const drawn = cutWidthDeg(cut);
      if (Number.isNaN(drawn) || Math.abs(drawn - width) <= Math.max(1, 0.2 * width)) continue;
      found.push({
        severity: 'warns',
        field: 'pattern',
        reason: `The pattern is ${drawn.toFixed(1)}° wide ${words}, the sheet says ${width}°: is it the pattern of this antenna?`,
        likely: {
          beamWidth:
            words === 'around'
              ? { ...beamWidth, azimuthDeg: round(drawn) }
              : { ...beamWidth, elevationDeg: round(drawn) },
        },
      });
    }
  }
  return found;
}

function stepFindings({ phy, sensitivities, widthsMHz, noiseFigureDb, mostConductedDbm }: Model): SpecFinding[] {
  const found: SpecFinding[] = [];
  const say = (severity: SpecFinding['severity'], reason: string): void => {
    found.push({ severity, field: 'sensitivities', reason });
  };
  for (const width of widthsMHz) {
    for (const corrected of [false, true]) {
      const rows = sensitivities
        .filter((s) => s.widthMHz === width && (s.errorCorrection ?? false) === corrected)
        .sort((a, b) => a.mcs - b.mcs);
      if (!rows.length && !corrected)
        say('forbids', `No step is known at ${width} MHz: say from which level on it works, or leave this width out.`);
      rows.slice(1).forEach((row, i) => {
        const slower = rows[i];
        if (slower && row.rslDbm < slower.rslDbm && !standsSo(phy, slower.mcs, row.mcs, width, corrected))
          say(
            'warns',
            `At ${width} MHz step ${row.mcs} works from ${minus(row.rslDbm)} dBm on and the slower step ${slower.mcs} only from ${minus(slower.rslDbm)}: a faster step needs more. Are two rows exchanged, or a figure mistyped?`,
          );
      });
      const floor = noiseDbm(width, 0);
      const deaf = rows.find((row) => row.rslDbm < floor);
      if (deaf)
        say(
          'warns',
          `At ${width} MHz step ${deaf.mcs} works at ${minus(deaf.rslDbm)} dBm, below the noise of a perfect receiver, ${minus(round(floor))} dBm: is the width another?`,
        );
      const loud = rows.find((row) => row.rslDbm > -20);
      if (loud)
        say(
          'warns',
          `Step ${loud.mcs} at ${width} MHz needs ${minus(loud.rslDbm)} dBm: is the sign missing, or the figure another's?`,
        );
      const strong = rows.find((row) => (row.mostConductedDbm ?? -Infinity) > mostConductedDbm);
      if (strong)
        say(
          'forbids',
          `Step ${strong.mcs} at ${width} MHz sends ${strong.mostConductedDbm ?? 0} dBm, more than the radio's most, ${mostConductedDbm} dBm.`,
        );
    }
  }
  const stray = [...new Set(sensitivities.map((s) => s.widthMHz))].filter((width) => !widthsMHz.includes(width));
  if (stray.length) say('forbids', `There are steps at ${stray.join(', ')} MHz, which is none of its widths.`);
  if (noiseFigureDb > 15)
    found.push({
      severity: 'warns',
      field: 'noiseFigureDb',
      reason: `A noise figure of ${noiseFigureDb} dB is more than receivers have, about 3 to 10 dB.`,
    });
  return found;
}

/** Whether the standard itself asks less of a step than of the one before: so it does where the modulation changes. */
function standsSo(phy: Model['phy'], before: number, mcs: number, widthMHz: number, corrected: boolean): boolean {
  const { minimumSensitivityDbm } = radioKinds[phy];
  return minimumSensitivityDbm(mcs, widthMHz, corrected) < minimumSensitivityDbm(before, widthMHz, corrected);
}

function restFindings({ poe, poeWatts, bootS, saveS, ethernetMbps }: Model): SpecFinding[] {
  const found: SpecFinding[] = [];
  const delivers = poeDeliversW[poe];
  if (poeWatts !== undefined && poeWatts > delivers) {
    found.push({
      severity: 'warns',
      field: 'poeWatts',
      reason: `It draws ${poeWatts} W, and ${poe} delivers ${delivers} W at the most: is it powered in another way?`,
    });
  }
  if (ethernetMbps > 0 && ethernetMbps < 10) {
    found.push({
      severity: 'warns',
      field: 'ethernetMbps',
      reason: `A port of ${ethernetMbps} Mbit/s is none of Ethernet's: were gigabits typed? Then it is ${ethernetMbps * 1000} Mbit/s.`,
      likely: { ethernetMbps: ethernetMbps * 1000 },
    });
  }
  for (const field of ['bootS', 'saveS'] as const) {
    const seconds = field === 'bootS' ? bootS : saveS;
    if (seconds !== undefined && seconds > 900) {
      found.push({
        severity: 'warns',
        field,
        reason: `${seconds} s are ${Math.round(seconds / 60)} minutes: were milliseconds typed?`,
        likely: { [field]: round(seconds / 1000) },
      });
    }
  }
  return found;
}

const round = (value: number): number => Math.round(value * 10) / 10;
const minus = (value: number): string => String(value).replace('-', '−');
const watts = (dbm: number): string => {
  const w = 10 ** ((dbm - 30) / 10);
  return w >= 1 ? `${w.toFixed(0)} W` : `${(w * 1000).toFixed(0)} mW`;
};
