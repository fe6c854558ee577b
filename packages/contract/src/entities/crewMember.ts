import 'reflect-metadata';
import { IsOptional, IsUUID } from 'class-validator';
import { Moment, OneOf, Text } from '../decorators';

/** What somebody may do in a job, least first: each may what those before may. */
export const jobRoles = ['reader', 'installer', 'lead'] as const;
export type JobRole = (typeof jobRoles)[number];

/** Whether a role is at least another one. */
export function atLeast(role: JobRole, needed: JobRole): boolean {
  return jobRoles.indexOf(role) >= jobRoles.indexOf(needed);
}

/** Somebody who works on a job, or did. */
export class CrewMember {
  @IsUUID() id!: string;
  @Text(1, 60) name!: string;
  @OneOf(jobRoles) role!: JobRole;
  /** since when they work on it no longer; their name stays beside what they did */
  @IsOptional() @Moment() leftAt!: string | null;
}
