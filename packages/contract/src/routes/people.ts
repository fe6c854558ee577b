import type { NewInvitationBody, NewPersonBody, PersonBody } from '../requests/people';
import type { InvitationBody, NewMemberBody, PasswordBody, SessionBody, SignInBody } from '../requests/session';
import { route } from './route';

/** Who works, and how they come in. */
export const peopleRoutes = {
  getSession: route<'getSession'>()('get', '/api/session', 'anyone', 'Who works in this browser'),
  chooseMember: route<'chooseMember'>()<SessionBody>(
    'put',
    '/api/session',
    'here',
    'Says who works in this browser from now on',
  ),
  joinCrew: route<'joinCrew'>()<NewMemberBody>(
    'post',
    '/api/jobs/:jobId/crew',
    'here',
    'The first of a crew that has nobody, who leads it and works in this browser',
  ),
  acceptInvitation: route<'acceptInvitation'>()<InvitationBody>(
    'post',
    '/api/session/invitation',
    'anyone',
    'Signs in by the code of an invitation, once',
  ),
  signIn: route<'signIn'>()<SignInBody>('post', '/api/session/password', 'anyone', 'Signs in by name and password'),
  setPassword: route<'setPassword'>()<PasswordBody>(
    'put',
    '/api/session/password',
    'signedIn',
    'Sets the password for coming back without a code',
  ),
  signOut: route<'signOut'>()('delete', '/api/session', 'signedIn', 'Ends the session of this browser'),
  endSession: route<'endSession'>()(
    'delete',
    '/api/sessions/:sessionId',
    'signedIn',
    'Ends a session: one of oneself, or of somebody whose job one leads',
  ),
  people: route<'people'>()('get', '/api/jobs/:jobId/people', 'reader', 'The crew with their roles and sessions'),
  addPerson: route<'addPerson'>()<NewPersonBody>(
    'post',
    '/api/jobs/:jobId/people',
    'lead',
    'Adds somebody to the crew of a job',
  ),
  changePerson: route<'changePerson'>()<PersonBody>(
    'patch',
    '/api/people/:memberId',
    'lead',
    'Gives somebody another role, or says that they work on the job no longer',
  ),
  invite: route<'invite'>()<NewInvitationBody>(
    'post',
    '/api/people/:memberId/invitations',
    'lead',
    'A code that lets one phone in as this person, once, for ten minutes; or one that somebody who signs in already joins the job by',
  ),
} as const;
