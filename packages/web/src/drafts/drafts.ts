/** What was typed and not saved yet: with the version of what was saved when the typing began. */
export interface Kept {
  base: string;
  value: unknown;
  /** typed while an earlier state of it was being saved: it goes on from what is saved after this version */
  after?: string;
}

/** What was typed and is on its way to the server. */
export interface Sending {
  /** forgets it; what was typed meanwhile stays */
  saved(): void;
  failed(): void;
}

const storageKey = 'kivram-drafts';

/**
 * Everything that was typed and not saved yet, by where it was typed. It outlives the screen, an error on it and a reload of the page; it goes when it is
 * saved or given up, and with the tab.
 */
class Drafts {
  private kept: ReadonlyMap<string, Kept> = read();
  private readonly listeners = new Set<() => void>();
  private readonly onTheWay = new Set<string>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  all = (): ReadonlyMap<string, Kept> => this.kept;

  get(key: string): Kept | undefined {
    return this.kept.get(key);
  }

  keep(key: string, draft: Kept): void {
    this.change((kept) => kept.set(key, draft));
  }

  drop(key: string): void {
    if (this.kept.has(key)) this.change((kept) => kept.delete(key));
  }

  /**
   * Begins to send what is kept. Until that is over, a newer version of what is saved is most likely this one: it is no clash with what is typed meanwhile.
   * @param then called once it is saved, unless something was typed meanwhile: what closes then would take that with it
   */
  send(key: string, then?: () => void): Sending {
    const sent = this.kept.get(key);
    this.onTheWay.add(key);
    return {
      saved: () => {
        this.onTheWay.delete(key);
        const now = this.kept.get(key);
        // By what it says: a form that is drawn anew meanwhile keeps the same once more.
        if (JSON.stringify(now?.value) === JSON.stringify(sent?.value)) {
          this.drop(key);
          then?.();
        } else if (now) this.keep(key, { ...now, after: now.base });
      },
      failed: () => {
        this.onTheWay.delete(key);
        this.change(() => undefined);
      },
    };
  }

  isOnTheWay(key: string): boolean {
    return this.onTheWay.has(key);
  }

  private change(how: (kept: Map<string, Kept>) => unknown): void {
    const kept = new Map(this.kept);
    how(kept);
    this.kept = kept;
    try {
      sessionStorage.setItem(storageKey, JSON.stringify([...kept]));
    } catch {
      // A browser that keeps nothing for a reload still keeps it for the next screen.
    }
    for (const listener of this.listeners) listener();
  }
}

function read(): ReadonlyMap<string, Kept> {
  try {
    return new Map(JSON.parse(sessionStorage.getItem(storageKey) ?? '[]') as [string, Kept][]);
  } catch {
    return new Map();
  }
}

export const drafts = new Drafts();
