import 'reflect-metadata';
import { IsUUID } from 'class-validator';
import { Text } from '../decorators';

/** Who is working on a job now. Said once; every change of this browser carries it from then on. */
export class SessionBody {
  @IsUUID() crewMemberId!: string;
}

/** Somebody who joins the crew of a job. */
export class NewMemberBody {
  @Text(1, 60) name!: string;
}
