/** A rounded hill: Gaussian, longer along one bearing when `alongM` differs from `acrossM`. East and north from the shape's origin. */
export interface Hill {
  eastM: number;
  northM: number;
  heightM: number;
  alongM: number;
  acrossM: number;
  bearingDeg: number;
}

/** A point whose height is given; the ground around bends to it. */
export interface Pin {
  eastM: number;
  northM: number;
  heightM: number;
  reachM: number;
}

export interface GroundShape {
  seed: number;
  /** depth of the sea floor, negative */
  floorM: number;
  hills: Hill[];
  pins: Pin[];
}

/** Invented land by a seed: hills on a sea floor, roughened by noise that grows with height, pinned where heights are given. */
export class Ground {
  private readonly corrections: number[];

  constructor(private readonly shape: GroundShape) {
    this.corrections = shape.pins.map(() => 0);
    // Pins overlap, so each pass repairs what its neighbours have bent; a few dozen passes settle to a millimetre.
    for (let pass = 0; pass < 60; pass++) {
      shape.pins.forEach((pin, i) => {
        this.corrections[i] = (this.corrections[i] ?? 0) + pin.heightM - this.heightM(pin.eastM, pin.northM);
      });
    }
  }

  heightM(eastM: number, northM: number): number {
    let height = this.shape.floorM;
    for (const hill of this.shape.hills) {
      const [dx, dy] = [eastM - hill.eastM, northM - hill.northM];
      const turn = (hill.bearingDeg * Math.PI) / 180;
      const along = (dx * Math.sin(turn) + dy * Math.cos(turn)) / hill.alongM;
      const across = (dx * Math.cos(turn) - dy * Math.sin(turn)) / hill.acrossM;
      height += hill.heightM * Math.exp(-(along ** 2 + across ** 2) / 2);
    }
    const rough = 3 + 0.16 * Math.max(0, height);
    for (const [octave, share] of [1, 0.5, 0.25, 0.12].entries()) {
      height += rough * share * this.noise(octave, (eastM * 2 ** octave) / 520, (northM * 2 ** octave) / 520);
    }
    this.shape.pins.forEach((pin, i) => {
      const r2 = ((eastM - pin.eastM) ** 2 + (northM - pin.northM) ** 2) / pin.reachM ** 2;
      height += (this.corrections[i] ?? 0) * Math.exp(-r2 / 2);
    });
    return height;
  }

  /** Value noise, -1 to 1, smooth between the points of a lattice. */
  private noise(octave: number, x: number, y: number): number {
    const [x0, y0] = [Math.floor(x), Math.floor(y)];
    const smooth = (t: number): number => t * t * (3 - 2 * t);
    const [u, v] = [smooth(x - x0), smooth(y - y0)];
    const at = (i: number, j: number): number => scatter(this.shape.seed, octave, i, j);
    const low = at(x0, y0) * (1 - u) + at(x0 + 1, y0) * u;
    const high = at(x0, y0 + 1) * (1 - u) + at(x0 + 1, y0 + 1) * u;
    return low * (1 - v) + high * v;
  }
}

/** An even spread over -1 to 1 from four whole numbers, by multiplying and folding their bits (after MurmurHash3's finalizer). */
function scatter(...numbers: number[]): number {
  let bits = 0x9e3779b9;
  for (const n of numbers) {
    bits = Math.imul(bits ^ n, 0x85ebca6b);
    bits = Math.imul(bits ^ (bits >>> 13), 0xc2b2ae35);
    bits ^= bits >>> 16;
  }
  return (bits >>> 0) / 0x80000000 - 1;
}
