/** One value that a line was computed from. */
export interface LedgerTerm {
  name: string;
  value: number;
  unit: string;
}

/** One line of a ledger: a level, or a gain or loss in dB that changes the running level. */
export interface LedgerLine {
  key: string;
  label: string;
  /** a level in dBm opens or closes the ledger; a change in dB is added to it */
  kind: 'level' | 'change';
  value: number;
  /** the level after this line */
  runningDbm: number;
  /** where the value comes from: formula, spec sheet or input */
  source: string;
  /** what it was computed from, when it is asked for; left out where the line is an input itself, or a sum */
  terms?: () => LedgerTerm[];
}

/** Adds up a ledger of gains and losses, keeping the running level beside each line. */
export class Ledger {
  readonly lines: LedgerLine[] = [];
  private runningDbm = 0;

  constructor(key: string, label: string, levelDbm: number, source: string) {
    this.level(key, label, levelDbm, source);
  }

  get levelDbm(): number {
    return this.runningDbm;
  }

  change(key: string, label: string, valueDb: number, source: string, terms?: () => LedgerTerm[]): this {
    this.runningDbm += valueDb;
    this.lines.push({ key, label, kind: 'change', value: valueDb, runningDbm: this.runningDbm, source, terms });
    return this;
  }

  /** Notes the running level under a name (EIRP, received level). */
  mark(key: string, label: string, source: string): this {
    return this.level(key, label, this.runningDbm, source);
  }

  private level(key: string, label: string, levelDbm: number, source: string): this {
    this.runningDbm = levelDbm;
    this.lines.push({ key, label, kind: 'level', value: levelDbm, runningDbm: levelDbm, source });
    return this;
  }
}
