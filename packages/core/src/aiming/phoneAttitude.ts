const degree = Math.PI / 180;

/** Attitude of a device as browsers tell it: angles about its z, x and y axes, in this order, degrees (W3C Device Orientation and Motion, section 3.3). */
export interface DeviceAngles {
  alphaDeg: number;
  betaDeg: number;
  gammaDeg: number;
}

/** Which part of the phone points where the antenna points: its upper edge, lying on the mount; or its back, strapped behind the dish. */
export const phoneSides = ['top', 'back'] as const;
export type PhoneSide = (typeof phoneSides)[number];

/** Nearer to the zenith than this a direction has no bearing that could be told, degrees. */
const steepestDeg = 75;

/**
 * Where a side of the phone points: bearing to the right of wherever the device's own zero lies, and height over the horizon, which gravity tells. Turned as a vector, so
 * that an upright phone has no angle at which its figures jump.
 * @returns null where it points so steeply that its bearing says nothing
 */
export function pointingOf(
  { alphaDeg, betaDeg, gammaDeg }: DeviceAngles,
  side: PhoneSide,
): { azimuthDeg: number; tiltDeg: number } | null {
  const [a, b, g] = [alphaDeg * degree, betaDeg * degree, gammaDeg * degree];
  // Columns of Z(alpha) X(beta) Y(gamma): the device's y axis, and the reverse of its z axis, in east, north and up.
  const [east, north, up] =
    side === 'top'
      ? [-Math.sin(a) * Math.cos(b), Math.cos(a) * Math.cos(b), Math.sin(b)]
      : [
          -Math.cos(a) * Math.sin(g) - Math.sin(a) * Math.sin(b) * Math.cos(g),
          -Math.sin(a) * Math.sin(g) + Math.cos(a) * Math.sin(b) * Math.cos(g),
          -Math.cos(b) * Math.cos(g),
        ];
  const tiltDeg = Math.asin(Math.min(1, Math.max(-1, up))) / degree;
  if (Math.abs(tiltDeg) > steepestDeg) return null;
  return { azimuthDeg: Math.atan2(east, north) / degree, tiltDeg };
}

/** The side that lies nearest to the horizon: which of the two a phone was laid by. */
export function flatterSide(angles: DeviceAngles): PhoneSide {
  const upOf = (side: PhoneSide): number => {
    const pointing = pointingOf(angles, side);
    return pointing ? Math.abs(pointing.tiltDeg) : 90;
  };
  return upOf('top') <= upOf('back') ? 'top' : 'back';
}

/** Bearings one after the other as turns: no jump at north. */
export class Unwrapped {
  private lastDeg: number | null = null;
  private turnedDeg = 0;

  /** @returns degrees turned to the right since the first one */
  push(azimuthDeg: number): number {
    if (this.lastDeg !== null) {
      const by = azimuthDeg - this.lastDeg;
      this.turnedDeg += by - 360 * Math.round(by / 360);
    }
    this.lastDeg = azimuthDeg;
    return this.turnedDeg;
  }
}
