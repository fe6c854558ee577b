import 'reflect-metadata';
import { IsUUID } from 'class-validator';

/** Who is working on a job now. Said once; every change of this browser carries it from then on. */
export class SessionBody {
  @IsUUID() crewMemberId!: string;
}
