import type { IntakeKind, IntakeResult, IntakeTask } from './task';

export interface Watching {
  /** gives up when it aborts */
  signal?: AbortSignal;
  onProgress?(share: number): void;
}

/** Reads files that come from outside. */
export interface Intake {
  /** @throws ApiProblem that says what is wrong with the file */
  run<Kind extends IntakeKind>(kind: Kind, task: IntakeTask<Kind>, watching?: Watching): Promise<IntakeResult<Kind>>;
  /** Ends whatever is being read. */
  stop(): void;
}
