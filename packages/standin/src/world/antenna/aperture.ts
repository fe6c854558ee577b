/// <reference path="../bessel.d.ts" />
import bessel from 'bessel';
import type { AntennaPattern } from './antennaPattern';

/** Strips that an aperture is cut into, and points of a table between boresight and where it ends. */
const strips = 120;
const stepWidths = 0.02;
const lastWidths = 14;

/** Power over the offset, both signs, scaled so that half of the power is half a width off, from a field whose unit of direction is its own. */
class Cut {
  private readonly table: Float64Array;
  private readonly middle: number;

  constructor(field: (u: number) => [re: number, im: number]) {
    const power = (u: number): number => {
      const [re, im] = field(u);
      return re * re + im * im;
    };
    const peak = highest(power);
    const top = power(peak);
    const half = (side: 1 | -1): number => {
      let outside = 0.01;
      while (power(peak + side * outside) > top / 2) outside += 0.01;
      let inside = outside - 0.01;
      for (let i = 0; i < 40; i++) {
        const between = (inside + outside) / 2;
        if (power(peak + side * between) > top / 2) inside = between;
        else outside = between;
      }
      return inside;
    };
    const width = half(1) + half(-1);
    this.middle = Math.round(lastWidths / stepWidths);
    this.table = Float64Array.from(
      { length: 2 * this.middle + 1 },
      (_, i) => power(peak + (i - this.middle) * stepWidths * width) / top,
    );
  }

  at(widths: number): number {
    const place = Math.min(2 * this.middle - 1e-9, Math.max(0, widths / stepWidths + this.middle));
    const i = Math.floor(place);
    const [a, b] = [this.table[i] ?? 0, this.table[i + 1] ?? 0];
    return a + (b - a) * (place - i);
  }
}

/** Where a field that is not even points: near zero, found by halving steps. */
function highest(power: (u: number) => number): number {
  let best = 0;
  for (let step = 0.5; step > 1e-5; step /= 2)
    for (const u of [best - step, best + step]) if (power(u) > power(best)) best = u;
  return best;
}

/** A round aperture lit alike in all directions; `lit` is the field over the radius, 0 in the middle to 1 at the rim. Summed ring by ring. */
export function roundAperture(lit: (radius: number) => number): AntennaPattern {
  const rings = Array.from({ length: strips }, (_, i) => {
    const radius = (i + 0.5) / strips;
    return { radius, field: lit(radius) * radius };
  });
  const cut = whenAsked(
    () => new Cut((u) => [rings.reduce((sum, r) => sum + r.field * bessel.besselj(u * r.radius, 0), 0), 0]),
  );
  return { share: (azimuth, tilt) => cut().at(Math.hypot(azimuth, tilt)) };
}

/** Field along one side of a straight aperture, from -1 to 1: strength and phase in radians. */
export type Lit = (x: number) => { strength: number; phase?: number };

/** An aperture with straight sides, each side lit by itself: its pattern is the product of both. */
export function straightAperture(sideways: Lit, upwards: Lit): AntennaPattern {
  const azimuthCut = whenAsked(() => cutOf(sideways));
  const tiltCut = whenAsked(() => cutOf(upwards));
  return { share: (azimuth, tilt) => azimuthCut().at(azimuth) * tiltCut().at(tilt) };
}

/** Summing takes a moment, and most programs use few antennas. */
function whenAsked<T>(make: () => T): () => T {
  let made: T | undefined;
  return () => (made ??= make());
}

function cutOf(lit: Lit): Cut {
  const parts = Array.from({ length: strips }, (_, i) => {
    const x = (2 * i + 1) / strips - 1;
    return { x, ...lit(x) };
  });
  return new Cut((u) => {
    let [re, im] = [0, 0];
    for (const { x, strength, phase = 0 } of parts) {
      re += strength * Math.cos(u * x + phase);
      im += strength * Math.sin(u * x + phase);
    }
    return [re, im];
  });
}
