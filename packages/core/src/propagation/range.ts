/**
 * Refuses what a formula is not made for, before it answers with an infinity or nonsense.
 * @throws RangeError that names the value and its limits
 */
export function requireRange(what: string, value: number, least: number, most: number, unit: string): void {
  if (value >= least && value <= most) return;
  const limits =
    most === Infinity ? `must be at least ${least} ${unit}` : `must lie between ${least} and ${most} ${unit}`;
  throw new RangeError(`${what} ${limits}, not ${value}.`);
}
