import type { NextWork } from '@kivram/core/verdict/next';
import type { StepState } from '@kivram/core/verdict/steps';

/** Where a link stands in the order of work. */
export interface LinkState {
  steps: StepState[];
  next: NextWork | null;
}
