import 'reflect-metadata';
import { IsBoolean } from 'class-validator';
import { MayBeLeftOut, OneOf, Text } from '../decorators';
import { jobRoles, type JobRole } from '../entities/crewMember';

/** Somebody who is to work on a job. */
export class NewPersonBody {
  @Text(1, 60) name!: string;
  @OneOf(jobRoles) role!: JobRole;
}

/** What is left out stays. */
export class PersonBody {
  @MayBeLeftOut() @OneOf(jobRoles) role?: JobRole;
  /** whether they work on the job no longer */
  @MayBeLeftOut() @IsBoolean() left?: boolean;
}
