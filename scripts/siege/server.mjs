import { randomUUID } from 'node:crypto';

/** A running server as an attacker or a user meets it: over HTTP, from one browser. */
export class Client {
  cookie = '';
  /** what was answered by 500 @type {string[]} */
  broken = [];

  /** @param {string} address such as http://127.0.0.1:4180 */
  constructor(address) {
    this.address = address;
  }

  /**
   * @param {string} path @param {unknown} [body] @param {string} [method]
   * @returns {Promise<{ status: number, body: any }>}
   */
  async ask(path, body, method = body === undefined ? 'GET' : 'POST') {
    const answer = await fetch(this.address + path, {
      method,
      headers: {
        'content-type': 'application/json',
        cookie: this.cookie,
        ...(method !== 'GET' && { 'idempotency-key': randomUUID() }),
      },
      body: body === undefined ? undefined : typeof body === 'string' ? body : JSON.stringify(body),
    });
    this.cookie = answer.headers.get('set-cookie')?.split(';')[0] ?? this.cookie;
    const said = { status: answer.status, body: await answer.json() };
    if (said.status === 500) this.broken.push(`${method} ${path}`);
    return said;
  }

  /** Says who works, and finds out what there is. */
  async begin() {
    const [job] = (await this.ask('/api/jobs')).body;
    const { crew } = (await this.ask(`/api/jobs/${job.id}`)).body;
    const lead = crew.find((/** @type {any} */ member) => member.role === 'lead');
    await this.ask('/api/session', { crewMemberId: lead.id }, 'PUT');
    const { links } = (await this.ask(`/api/jobs/${job.id}/links?limit=500`)).body;
    const { places, obstacles } = (await this.ask(`/api/jobs/${job.id}/map`)).body;
    const terrain = (await this.ask('/api/terrain')).body;
    const { visits, photos } = (await this.ask(`/api/jobs/${job.id}/visits`)).body;
    return { job, crew, links, places, obstacles, terrain, visits, photos };
  }
}

/** Identifiers of everything there is, by the name of the parameter that stands for them. @param {Client} client @returns {Promise<Record<string, string[]>>} */
export async function idsOf(client) {
  const { job, crew, links, places, obstacles, terrain, visits, photos } = await client.begin();
  /** @type {any[]} */
  const views = await Promise.all(
    links.map(async (/** @type {any} */ l) => (await client.ask(`/api/links/${l.id}`)).body),
  );
  const of = (/** @type {any[]} */ rows) => rows.map((row) => row.id);
  const radios = views.flatMap((view) => [view.near.radio.id, view.far.radio.id]);
  const alignments = views.flatMap((view) => (view.alignment ? [view.alignment.id] : []));
  return {
    jobId: [job.id],
    linkId: of(links),
    placeId: of(places),
    obstacleId: of(obstacles),
    radioId: radios,
    alignmentId: alignments,
    // Who asks stays somebody who leads the job: as another, most of it would be refused before it is looked at.
    crewMemberId: of(crew.filter((/** @type {any} */ member) => member.role === 'lead')),
    memberId: of(crew.filter((/** @type {any} */ member) => member.role !== 'lead')),
    visitId: of(visits),
    photoId: of(photos),
    fileId: of(terrain),
    modelId: [...new Set(views.flatMap((view) => [view.near.model.id, view.far.model.id]))],
  };
}
