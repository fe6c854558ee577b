import 'reflect-metadata';
import { IsUUID } from 'class-validator';
import { MayBeLeftOut, Text } from '../decorators';

/** Who is working on a job now, at the computer itself. Said once; every change of this browser carries it from then on. */
export class SessionBody {
  @IsUUID() crewMemberId!: string;
}

/** The first of a job's crew. */
export class NewMemberBody {
  @Text(1, 60) name!: string;
}

/** The code of an invitation, as it stands in the address that a phone scans. */
export class InvitationBody {
  @Text(1, 100) code!: string;
}

/** Coming back without a code. */
export class SignInBody {
  @Text(1, 60) name!: string;
  @Text(1, 200) password!: string;
}

/** Length is what makes a password hard to guess (NIST SP 800-63B, section 5.1.1.2, from memory: 8 at least; ours is used over a radio network by few people). */
export const shortestPassword = 10;

/** A password for coming back. */
export class PasswordBody {
  @Text(shortestPassword, 200) password!: string;
  /** the password until now; not needed where there is none, or where an invitation began this session */
  @MayBeLeftOut() @Text(1, 200) before?: string;
}
