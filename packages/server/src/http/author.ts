import { randomUUID } from 'node:crypto';
import type { CrewMemberRow } from '../database/models/crewMember';
import { nobodyChosen } from './apiProblem';

/** Who asks for a change, and under which id. It comes from the session and the request's header, never from the body. */
export interface Author {
  changeId: string;
  /** what is asked for and by whom, in one word: an id that was used for anything else is no repetition */
  madeBy: string;
  /** The crew member who works on this job in this browser. @throws ApiProblem when nobody has said who that is */
  memberOf(jobId: string): string;
  /** set once a change was made under this id that viewers of its job are told of */
  isTold?: boolean;
}

/** @param crewMemberIds who works on which job */
export function authorOf(changeId: string, crewMemberIds: Record<string, string>, madeBy = 'program'): Author {
  return {
    changeId,
    madeBy,
    memberOf: (jobId) => {
      const member = crewMemberIds[jobId];
      if (member) return member;
      throw nobodyChosen();
    },
  };
}

/** A crew member as the author of what the program does by itself, as in the demo. */
export function authorFrom({ id, jobId }: Pick<CrewMemberRow, 'id' | 'jobId'>, changeId: string): Author {
  return authorOf(changeId, { [jobId]: id });
}

/** The same author for what is done each time that it is asked for, whatever the id that comes with it was used for. */
export const anew = (author: Author): Author => ({ ...author, changeId: randomUUID() });
