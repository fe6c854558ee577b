/** A name that nothing has yet: itself, or with a number behind it. */
export function freeName(name: string, taken: Pick<ReadonlySet<string>, 'has'>, longest: number): string {
  for (let number = 1; ; number++) {
    const suffix = number === 1 ? '' : ` ${number}`;
    const candidate = name.slice(0, longest - suffix.length) + suffix;
    if (!taken.has(candidate)) return candidate;
  }
}
