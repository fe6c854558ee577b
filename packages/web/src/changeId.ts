/** A random identifier, version 4 of RFC 9562. Unlike `crypto.randomUUID` it is there on plain HTTP too. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = ((bytes[6] as number) & 0x0f) | 0x40;
  bytes[8] = ((bytes[8] as number) & 0x3f) | 0x80;
  const hex = Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('');
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join('-');
}

/**
 * Ids for changes that may be tried again: the same body after a try that got no answer keeps its id, so that a change which was made all the same is not
 * made twice.
 */
export class ChangeIds {
  private pending: { body: string; id: string } | null = null;

  idFor(body: unknown): string {
    const text = JSON.stringify(body ?? null);
    if (this.pending?.body !== text) this.pending = { body: text, id: newId() };
    return this.pending.id;
  }

  /** An answer came: the next change is another one, also with the same body. */
  settled(): void {
    this.pending = null;
  }
}
