/** Mean radius of the Earth, as ITU-R P.526 uses it. */
export const earthRadiusM = 6_371_000;

/** Effective-radius factor of the standard atmosphere (ITU-R P.310: median k = 4/3). */
export const standardK = 4 / 3;

/**
 * Elevation of the sight line at the near antenna, positive upwards, over an Earth of k times its radius, so that the
 * ray is straight. Exact triangle between the two antennas and the Earth's centre.
 * @param nearHeightM, farHeightM antenna heights above sea level
 */
export function tiltDeg(nearHeightM: number, farHeightM: number, distanceM: number, k = standardK): number {
  const radiusM = k * earthRadiusM;
  const centralAngle = distanceM / radiusM;
  const near = radiusM + nearHeightM;
  const far = radiusM + farHeightM;
  const up = far * Math.cos(centralAngle) - near;
  const along = far * Math.sin(centralAngle);
  return (Math.atan2(up, along) * 180) / Math.PI;
}

/** Length of the straight ray between two antennas, for losses: the chord of the same triangle. */
export function slantRangeM(nearHeightM: number, farHeightM: number, distanceM: number): number {
  const near = earthRadiusM + nearHeightM;
  const far = earthRadiusM + farHeightM;
  const half = Math.sin(distanceM / (2 * earthRadiusM));
  return Math.sqrt((far - near) ** 2 + 4 * near * far * half ** 2);
}

/** Bulge of the Earth above the chord at d1 from one end and d2 from the other: d1 d2 / (2 k a). */
export function earthBulgeM(d1M: number, d2M: number, k = standardK): number {
  return (d1M * d2M) / (2 * k * earthRadiusM);
}
