/** One radio as the wave leaves and meets it. */
export interface WaveEnd {
  latitudeDeg: number;
  longitudeDeg: number;
  /** antenna above sea level */
  heightM: number;
  powerDbm: number;
  gainDbi: number;
  cableLossDb: number;
}

/** What a wave goes over. */
export interface WavePath {
  from: WaveEnd;
  to: WaveEnd;
  frequencyMHz: number;
  /** evenly spaced ground heights from one end to the other, sea level where unknown; empty: nothing in between */
  groundM: readonly number[];
  /** straight up a shaft instead of over ground: how long the way is */
  shaftM: number | null;
}

const lightMPerS = 299_792_458;

/**
 * The level that arrives with both antennas on target: Friis' formula, and for every hill that matters the wave behind an edge by the Fresnel
 * integral, edge after edge (Deygout 1966, three edges). Its own arithmetic from the constants of nature up, so that what is predicted elsewhere can be
 * held against it.
 */
export function arrivingDbm(path: WavePath): number {
  const { from, to, frequencyMHz, shaftM } = path;
  const flatM = shaftM ?? haversineM(from, to);
  const rangeM = shaftM ?? Math.hypot(flatM, to.heightM - from.heightM);
  const waveM = lightMPerS / (frequencyMHz * 1e6);
  const spreadDb = 20 * Math.log10((4 * Math.PI * Math.max(rangeM, 0.1)) / waveM);
  const airDb = absorbedDbPerKm(frequencyMHz) * (rangeM / 1000);
  const ends = from.powerDbm - from.cableLossDb + from.gainDbi + to.gainDbi - to.cableLossDb;
  const hills = shaftM === null ? hillsOver(path, flatM) : [];
  return ends - spreadDb - airDb - behindHillsDb(hills, flatM, from.heightM, to.heightM, waveM, 3);
}

function haversineM(a: WaveEnd, b: WaveEnd): number {
  const rad = Math.PI / 180;
  const dLat = (b.latitudeDeg - a.latitudeDeg) * rad;
  const dLon = (b.longitudeDeg - a.longitudeDeg) * rad;
  const h =
    Math.sin(dLat / 2) ** 2 + Math.cos(a.latitudeDeg * rad) * Math.cos(b.latitudeDeg * rad) * Math.sin(dLon / 2) ** 2;
  return 2 * 6_371_000 * Math.asin(Math.sqrt(h));
}

/** Oxygen around its band at 60 GHz, as a bell; elsewhere the air takes nothing worth a stand-in. */
function absorbedDbPerKm(frequencyMHz: number): number {
  return 15 * Math.exp(-(((frequencyMHz - 60_500) / 3_500) ** 2));
}

interface Hill {
  atM: number;
  topM: number;
}

/** Ground on the bent Earth: a ray in usual air sees an Earth of 4/3 of its radius. */
function hillsOver({ groundM }: WavePath, flatM: number): Hill[] {
  const bentM = (atM: number): number => (atM * (flatM - atM)) / (2 * (4 / 3) * 6_371_000);
  return groundM.slice(1, -1).map((heightM, i) => {
    const atM = ((i + 1) / (groundM.length - 1)) * flatM;
    return { atM, topM: heightM + bentM(atM) };
  });
}

/** Loss of the edge that reaches deepest into the wave, then of the next ones to both sides of it. */
function behindHillsDb(
  hills: readonly Hill[],
  flatM: number,
  leftM: number,
  rightM: number,
  waveM: number,
  edges: number,
  fromM = 0,
): number {
  if (!edges) return 0;
  let worst: { hill: Hill; v: number } | undefined;
  for (const hill of hills) {
    const [a, b] = [hill.atM - fromM, flatM - (hill.atM - fromM)];
    if (a <= 1 || b <= 1) continue;
    const aboveM = hill.topM - (leftM + ((rightM - leftM) * a) / flatM);
    const v = aboveM * Math.sqrt((2 * flatM) / (waveM * a * b));
    if (!worst || v > worst.v) worst = { hill, v };
  }
  if (!worst || worst.v < -0.8) return 0;
  const { hill } = worst;
  const left = hills.filter((h) => h.atM < hill.atM);
  const right = hills.filter((h) => h.atM > hill.atM);
  const wayM = hill.atM - fromM;
  // Beside the deepest edge only those count that stick out of the lines to it.
  const beside =
    worst.v > 0
      ? behindHillsDb(left, wayM, leftM, hill.topM, waveM, edges === 3 ? 1 : 0, fromM) +
        behindHillsDb(right, flatM - wayM, hill.topM, rightM, waveM, edges === 3 ? 1 : 0, hill.atM)
      : 0;
  return edgeDb(worst.v) + Math.max(0, beside);
}

/** The wave behind an edge: |(1 + i)/2 times the integral of exp(-i pi t^2 / 2) from v on|^2, summed numerically. */
function edgeDb(v: number): number {
  const [stepT, end] = [0.005, 9];
  let [re, im] = [0, 0];
  for (let t = v + stepT / 2; t < Math.max(end, v + 6); t += stepT) {
    // A soft end keeps the cut-off from ringing.
    const soft = t > end - 3 ? Math.cos((Math.min(1, (t - end + 3) / 3) * Math.PI) / 2) ** 2 : 1;
    re += Math.cos((Math.PI * t * t) / 2) * stepT * soft;
    im -= Math.sin((Math.PI * t * t) / 2) * stepT * soft;
  }
  return Math.max(0, -10 * Math.log10((re * re + im * im) / 2));
}
