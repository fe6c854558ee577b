/** Ten to a power. The exponential takes a third of what the power itself takes, and a year is made of many of them. */
export function tenTo(exponent: number): number {
  return Math.exp(Math.LN10 * exponent);
}
