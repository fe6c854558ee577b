import type { FieldError } from '@kivram/contract/problem';

/** An error with the words for whoever made the request. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly errors?: FieldError[],
    /** the entry as it is now, where somebody else was faster */
    readonly current?: Record<string, unknown>,
  ) {
    super(detail);
  }
}

export const notFound = (what: string): ApiProblem =>
  new ApiProblem(404, 'Not found', `There is no such ${what}. It may have been removed; go back and look again.`);

/** At the computer itself, before anybody was chosen. */
export const nobodyChosen = (): ApiProblem =>
  new ApiProblem(
    403,
    'Who is working?',
    'Nobody has said who is working on this job in this browser. Choose a name at the top of the page, then repeat the change.',
  );

/** @param current the entry as it is now */
export const changedMeanwhile = (what: string, current?: Record<string, unknown>): ApiProblem =>
  new ApiProblem(
    409,
    'Changed meanwhile',
    `Somebody else has changed this ${what} since you opened it. Load it again, then repeat your change.`,
    undefined,
    current,
  );
