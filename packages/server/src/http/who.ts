import { atLeast, type JobRole } from '@kivram/contract/entities/crewMember';
import type { Membership } from '@kivram/contract/views/people';
import type { Request } from 'express';
import { Op } from 'sequelize';
import { CrewMemberRow } from '../database/models/crewMember';
import { ApiProblem, nobodyChosen } from './apiProblem';

/** Who asks. At the computer itself that is whoever was chosen for each job; over the network, who signed in. */
export interface Who {
  isHere: boolean;
  personId: string | null;
  /** their places in jobs, by job */
  members: ReadonlyMap<string, Membership>;
}

declare module 'express-serve-static-core' {
  interface Request {
    who: Who;
  }
}

export const nobody = (isHere: boolean): Who => ({ isHere, personId: null, members: new Map() });

/** Requests of other computers come encrypted, and only they do: the plain listener is bound to this one. */
export function isHere(request: Request): boolean {
  return !request.secure;
}

/** Who asks, as the session of a request says. What somebody was in a job that they left counts no more. */
export async function whoAsks(request: Request): Promise<Who> {
  const here = isHere(request);
  const { personId, crewMemberIds } = request.session;
  const where = here ? { id: { [Op.in]: Object.values(crewMemberIds ?? {}) } } : { personId: personId ?? null };
  if (!here && !personId) return nobody(false);
  const rows = await CrewMemberRow.findAll({ where: { ...where, leftAt: null } });
  return {
    isHere: here,
    personId: here ? null : (personId ?? null),
    members: new Map(rows.map(({ id, jobId, role }) => [jobId, { id, role }])),
  };
}

/** The jobs that somebody may know of; null for all of them. */
export function jobsSeenBy({ isHere: here, members }: Who): string[] | null {
  return here ? null : [...members.keys()];
}

/** The jobs that somebody may replace by a file; null for all of them. */
export function jobsLedBy({ isHere: here, members }: Who): string[] | null {
  return here ? null : [...members].flatMap(([jobId, { role }]) => (role === 'lead' ? [jobId] : []));
}

const roleNames: Record<JobRole, string> = { reader: 'a reader', installer: 'an installer', lead: 'a lead' };

/** @throws ApiProblem where somebody has no such role in a job */
export function needRole({ isHere: here, members }: Who, jobId: string, needed: JobRole): void {
  const member = members.get(jobId);
  if (!member) {
    throw here
      ? nobodyChosen()
      : new ApiProblem(403, 'Not your job', 'You do not work on this job. Ask somebody who leads it to invite you.');
  }
  if (atLeast(member.role, needed)) return;
  throw new ApiProblem(
    403,
    'Not your part',
    `You are ${roleNames[member.role]} in this job, and this takes ${roleNames[needed]}. Somebody who leads the job can give you that part.`,
  );
}
