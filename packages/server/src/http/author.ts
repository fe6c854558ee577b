import type { Request } from 'express';
import type { CrewMemberRow } from '../database/models';
import { ApiProblem } from './problem';

/** Who asks for a change, and under which id. It comes from the session and the request's header, never from the body. */
export interface Author {
  changeId: string;
  /** The crew member who works on this job in this browser. @throws ApiProblem when nobody has said who that is */
  memberOf(jobId: string): string;
}

/** What a session remembers: who works on which job. */
declare module 'express-session' {
  interface SessionData {
    crewMemberIds: Record<string, string>;
  }
}

export function authorOf(changeId: string, crewMemberIds: Record<string, string> | undefined): Author {
  return {
    changeId,
    memberOf: (jobId) => {
      const member = crewMemberIds?.[jobId];
      if (member) return member;
      throw new ApiProblem(
        403,
        'Who is working?',
        'Nobody has said who is working on this job in this browser. Choose a name at the top of the page, then repeat the change.',
      );
    },
  };
}

/** From now on a crew member works on their job in this browser. */
export function workAs({ session }: Request, { id, jobId }: Pick<CrewMemberRow, 'id' | 'jobId'>): void {
  session.crewMemberIds = { ...session.crewMemberIds, [jobId]: id };
}

/** A crew member as the author of what the program does by itself, as in the demo. */
export function authorFrom({ id, jobId }: Pick<CrewMemberRow, 'id' | 'jobId'>, changeId: string): Author {
  return authorOf(changeId, { [jobId]: id });
}
