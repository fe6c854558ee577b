import { Agent, request } from 'node:https';

/** A phone on the network: cookie, token, a line that stays open. */
export class Phone {
  cookie = '';
  token = '';

  /** @param {string} address @param {string} authority */
  constructor(address, authority) {
    this.address = new URL(address);
    this.authority = authority;
    this.agent = new Agent({ ca: authority, keepAlive: true });
  }

  /**
   * Somebody new on a job, let in on a phone of theirs.
   * @param {import('./server.mjs').Client} here who leads that job at the computer @param {string} lan the address on the network
   * @param {string} jobId @param {string} name @param {'reader' | 'installer' | 'lead'} role
   */
  static async invited(here, lan, jobId, name, role) {
    const authority = await (await fetch(`${here.address}/kivram-authority.crt`)).text();
    const phone = new Phone(lan, authority);
    const { code } = await invitation(here, jobId, name, role);
    const { status, text } = await phone.ask('POST', '/api/session/invitation', JSON.stringify({ code }));
    if (status !== 200) throw new Error(`${name} is not let in: ${text}`);
    phone.token = JSON.parse(text).token;
    return phone;
  }

  /** Reads a stream until whoever sends it ends it. @param {string} path @returns {Promise<number>} how many pieces came */
  watch(path) {
    return new Promise((resolve, reject) => {
      const asking = request(this.address.origin + path, { headers: { cookie: this.cookie }, ca: this.authority });
      asking.once('response', (answer) => {
        let pieces = 0;
        answer.on('data', () => pieces++);
        answer.on('error', () => undefined);
        answer.once('close', () => resolve(pieces));
      });
      asking.once('error', reject);
      asking.end();
    });
  }

  /** @param {string} method @param {string} path @param {string} [text] @param {Record<string, string>} [more] @returns {Promise<{ status: number, text: string }>} */
  ask(method, path, text, more = {}) {
    const headers = {
      'content-type': 'application/json',
      cookie: this.cookie,
      ...(method !== 'GET' && { origin: this.address.origin, 'kivram-token': this.token }),
      ...more,
    };
    return new Promise((resolve, reject) => {
      const asking = request(this.address.origin + path, { method, headers, agent: this.agent }, (answer) => {
        this.cookie = answer.headers['set-cookie']?.[0]?.split(';')[0] ?? this.cookie;
        const isStream = answer.headers['content-type'] === 'text/event-stream';
        let said = '';
        answer.on('data', (chunk) => {
          said += chunk;
          if (isStream) answer.destroy();
        });
        answer.on('close', () => resolve({ status: answer.statusCode ?? 0, text: said }));
      });
      asking.on('error', reject);
      asking.end(text);
    });
  }
}

/** A code that lets somebody new in, once. @param {import('./server.mjs').Client} here @param {string} jobId @param {string} name @param {string} role @returns {Promise<{ code: string }>} */
export async function invitation(here, jobId, name, role) {
  await here.ask(`/api/jobs/${jobId}/people`, { name, role });
  const { people } = (await here.ask(`/api/jobs/${jobId}/people`)).body;
  const { id } = people.find((/** @type {any} */ person) => person.name === name);
  return (await here.ask(`/api/people/${id}/invitations`, {})).body;
}
