/** A channel width: narrowband is named in kilohertz. */
export function widthText(widthMHz: number): string {
  return widthMHz < 1 ? `${Number((1000 * widthMHz).toFixed(3))} kHz` : `${widthMHz} MHz`;
}

/** Channel widths in a few words: all of them where they are few, else from where to where. */
export function widthsText(widthsMHz: readonly number[]): string {
  const sorted = [...widthsMHz].sort((a, b) => a - b);
  const [least = 0, most = 0] = [sorted[0], sorted.at(-1)];
  if (sorted.length > 4) return `${widthText(least)} to ${widthText(most)}`;
  const inKilohertz = most < 1;
  const number = (width: number): string => widthText(width).split(' ')[0] ?? '';
  return least < 1 === inKilohertz
    ? `${sorted.map(number).join(', ')} ${inKilohertz ? 'kHz' : 'MHz'}`
    : sorted.map(widthText).join(', ');
}

/**
 * A rate with its unit; what narrowband carries is named in kilobits.
 * @param besideMbps the largest of the rates that stand in one row with it: they have one unit
 */
export function rateText(mbps: number, besideMbps = mbps): { value: number; unit: string; digits: number } {
  const largestMbps = Math.max(mbps, besideMbps);
  if (largestMbps < 1 && largestMbps > 0) return { value: 1000 * mbps, unit: 'kbit/s', digits: 1 };
  return { value: mbps, unit: 'Mbit/s', digits: mbps > 0 && mbps < 1 ? 3 : 0 };
}
