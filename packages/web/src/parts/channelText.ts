/** A channel width: narrowband is named in kilohertz. */
export function widthText(widthMHz: number): string {
  return widthMHz < 1 ? `${Number((1000 * widthMHz).toFixed(3))} kHz` : `${widthMHz} MHz`;
}

/** A rate with its unit; what narrowband carries is named in kilobits. */
export function rateText(mbps: number): { value: number; unit: string; digits: number } {
  return mbps < 1 && mbps > 0
    ? { value: 1000 * mbps, unit: 'kbit/s', digits: 1 }
    : { value: mbps, unit: 'Mbit/s', digits: 0 };
}
