import 'reflect-metadata';
import { IsBoolean, IsUUID } from 'class-validator';
import { MayBeLeftOut, OneOf, Text } from '../decorators';
import { jobRoles, type JobRole } from '../entities/crewMember';

/** Somebody who is to work on a job. */
export class NewPersonBody {
  @Text(1, 60) name!: string;
  @OneOf(jobRoles) role!: JobRole;
}

/** Whom a code is for. */
export class NewInvitationBody {
  /** somebody of another job: this is the same person, who signs in already */
  @MayBeLeftOut() @IsUUID() sameAs?: string;
}

/** What is left out stays. */
export class PersonBody {
  @MayBeLeftOut() @OneOf(jobRoles) role?: JobRole;
  /** whether they work on the job no longer */
  @MayBeLeftOut() @IsBoolean() left?: boolean;
}
