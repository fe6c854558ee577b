import { problemMediaType, type FieldError, type Problem } from '@kivram/contract/problem';
import type { ErrorRequestHandler } from 'express';
import type { Logger } from 'pino';
import { PlacesFileError } from '../formats/places/waypoint';
import { isBusy, isDatabaseGone, isDiskFull } from '../database/errors';
import { TerrainFileError } from '../formats/terrain/format';
import { ApiProblem, changedMeanwhile, notFound } from './apiProblem';
import {
  DatabaseError,
  EmptyResultError,
  ForeignKeyConstraintError,
  OptimisticLockError,
  UniqueConstraintError,
} from 'sequelize';

/** Turns whatever was thrown into a problem document. What we did not foresee is logged, not shown. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.closed) return; // whoever asked has gone away
    if (response.headersSent) return next(error);
    const problem = problemOf(error);
    // Said to whoever asks, and as often as they ask: the log has its cause.
    if (problem.status === 503 || problem.status === 507) log.debug({ path: request.path }, problem.detail);
    else if (problem.status >= 500) log.error({ err: error, path: request.path }, 'request failed');
    response.status(problem.status).type(problemMediaType).send(JSON.stringify(problem));
  };
}

/** Words for the constraints of the database that a user can run into. */
const constraintWords: Record<string, string> = {
  place_job_id_name_key: 'A place of this name exists in this job. Choose it, or give the new one another name.',
  link_job_id_name_key: 'A link of this name exists in this job. Give it another name.',
  link_near_radio_id_far_radio_id_key: 'These two radios are a link already.',
  one_running_alignment: 'This link is being aimed right now. Join that alignment, or end it first.',
  throughput_test_once: 'This very file has been imported for this link already.',
  air_check: 'The two frequencies of a licensed pair lie closer than the channel spacing, or one is missing.',
  change_pkey: 'This change was sent twice at the same moment. Look whether it was made, then repeat it if it was not.',
  radio_job_id_mac_key: 'A radio with this MAC address exists in this job.',
  sheet_pkey: 'Somebody else has saved these settings meanwhile. Load them again.',
};

/** Whatever was thrown, as a problem document. */
export function problemOf(error: unknown): Problem {
  const make = (status: number, title: string, detail: string, errors?: FieldError[]): Problem => ({
    type: 'about:blank',
    title,
    status,
    detail,
    ...(errors && { errors }),
  });
  if (error instanceof ApiProblem) {
    const { status, title, message, errors, current } = error;
    return { ...make(status, title, message, errors), ...(current && { current }) };
  }
  if (error instanceof PlacesFileError || error instanceof TerrainFileError)
    return make(422, 'Not readable', error.message);
  // It was there a moment ago: somebody has removed it while this went on.
  if (error instanceof EmptyResultError) return problemOf(notFound('entry'));
  if (error instanceof OptimisticLockError) return problemOf(changedMeanwhile('entry'));
  if (
    error instanceof UniqueConstraintError ||
    error instanceof ForeignKeyConstraintError ||
    error instanceof DatabaseError
  ) {
    const { constraint, code } = error.parent as { constraint?: string; code?: string };
    const words = constraint && constraintWords[constraint];
    if (words) return make(409, 'Conflict', words);
    if (isBusy(code)) {
      return make(503, 'Busy', 'Others are changing the same entries at this moment. Nothing was changed: try again.');
    }
    if (code === '23505') return make(409, 'Conflict', 'An entry with these values exists already.');
    if (code === '23503')
      return make(409, 'Conflict', 'This refers to an entry that does not exist in this job. Load the page again.');
    if (code?.startsWith('23') || code?.startsWith('22')) {
      return make(
        422,
        'Not possible',
        `The database refuses this (${constraint ?? 'value out of range'}). Check the values.`,
      );
    }
  }
  if (isDiskFull(error)) {
    return make(
      507,
      'The disk is full',
      'The disk of the computer that Kivram runs on is full: nothing was changed. Free some space there, then try again. What you have entered stays here.',
    );
  }
  if (isDatabaseGone(error)) {
    return make(
      503,
      'The database does not answer',
      'The database does not answer. It is started again by itself: wait some seconds, then try again. What you have entered stays here.',
    );
  }
  const { status } = Object(error) as { status?: unknown };
  if (typeof status === 'number' && status >= 400 && status < 500) {
    const type = (error as { type?: string }).type;
    const detail =
      type === 'entity.too.large'
        ? `The request is longer than ${Math.round(Number((error as { limit?: unknown }).limit) / 1e6)} MB, which none of its kind is.`
        : type === 'entity.parse.failed'
          ? 'The request is not valid JSON. Check that the file is complete.'
          : 'The request could not be read.';
    return make(status, 'Bad request', detail);
  }
  return make(
    500,
    'Something broke',
    'Kivram could not do this. Nothing was changed. The log of the server says more.',
  );
}
