import type { End, StepState } from '@kivram/core';

/** Where a link stands in the order of work. */
export interface LinkState {
  steps: StepState[];
  next: (StepState & { end: End | 'both' }) | null;
}
