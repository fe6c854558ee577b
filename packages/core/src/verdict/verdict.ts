/** State words, from good to bad, and `open` for what has not been done. */
export const states = ['holds', 'thin', 'fails', 'open'] as const;
export type State = (typeof states)[number];

/** A computed judgement with its reason and the figures it rests on. */
export interface Verdict {
  state: State;
  /** follows the word of the state, as in "thin, enough for the need, but ..." */
  headline: string;
  reason: string;
  terms: VerdictTerm[];
}

export interface VerdictTerm {
  label: string;
  value: number;
  unit: string;
}
