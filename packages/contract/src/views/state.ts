import type { NextWork, StepState } from '@kivram/core';

/** Where a link stands in the order of work. */
export interface LinkState {
  steps: StepState[];
  next: NextWork | null;
}
