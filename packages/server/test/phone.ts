import type { JobRole } from '@kivram/contract/entities/crewMember';
import { tokenHeader } from '@kivram/contract/routes/route';
import type { InvitationView, PeopleView, SessionView } from '@kivram/contract/views/people';
import { Agent } from 'node:https';
import request from 'supertest';
import type { TestServer } from './server';

/** A browser on the local network: it trusts the authority, carries cookies and, once signed in, the token of its session. */
export class Phone {
  private readonly agent: ReturnType<typeof request.agent>;
  /** as a browser does, it keeps its line open: to shake hands anew for every request takes longer than most answers */
  private readonly lines: Agent;
  token: string | null = null;

  constructor(
    private readonly address: string,
    authority: string,
  ) {
    this.agent = request.agent(address, { ca: authority } as never);
    this.lines = new Agent({ keepAlive: true, ca: authority });
  }

  ask(method: string, path: string, body?: object): request.Test {
    const asked = (this.agent as unknown as Record<string, (path: string) => request.Test>)[method] as (
      path: string,
    ) => request.Test;
    const sent = asked
      .call(this.agent, path)
      .agent(this.lines)
      .set(
        'user-agent',
        'Mozilla/5.0 (Linux; Android 14; Roof 7) AppleWebKit/537.36 Chrome/131.0.0.0 Mobile Safari/537.36',
      );
    if (method !== 'get') void sent.set('origin', this.address);
    if (this.token) void sent.set(tokenHeader, this.token);
    return body ? sent.send(body) : sent;
  }

  get = (path: string): request.Test => this.ask('get', path);
  post = (path: string, body: object = {}): request.Test => this.ask('post', path, body);

  /** Signs in and keeps the token, as the page does. */
  async enter(path: string, body: object): Promise<request.Response> {
    const answer = await this.post(path, body);
    this.token = (answer.body as SessionView).token ?? this.token;
    return answer;
  }

  accept = (code: string): Promise<request.Response> => this.enter('/api/session/invitation', { code });
}

/** Adds somebody to a job, at the computer itself. @returns their place in it */
export async function addPerson(
  server: TestServer,
  name: string,
  role: JobRole,
  jobId = server.jobId,
): Promise<string> {
  const answer = await server.post(`/api/jobs/${jobId}/people`, { name, role });
  return (answer.body as PeopleView).people.find((person) => person.name === name)?.id ?? '';
}

export async function invite(server: TestServer, memberId: string): Promise<InvitationView> {
  return (await server.post(`/api/people/${memberId}/invitations`)).body as InvitationView;
}
