import { randomUUID } from 'node:crypto';
import { pino } from 'pino';
import type { Sequelize } from 'sequelize';
import request from 'supertest';
import type { JobLinks, JobView } from '@kivram/contract/views/job';
import type { LinkView } from '@kivram/contract/views/link';
import { createApp, type AppParts } from '../src/app';
import { connect } from '../src/database/connection';
import { authorOf, type Author } from '../src/http/author';
import type { Opening } from '../src/lan/opening';
import { DevicesHere } from './devicesHere';
import { IntakeHere } from './intakeHere';
import { administer, databaseNamed, templateName, wholeTemplate } from './template';

/** A server over a database of its own, a copy of the template with the demo job. Its requests come from one browser, in which a crew member has been chosen. */
export interface TestServer extends AppParts {
  sequelize: Sequelize;
  databaseUrl: string;
  jobId: string;
  crewMemberId: string;
  /** the chosen crew member as the author of a new change */
  author(): Author;
  /** from now on somebody who leads the job works on it in this browser */
  lead(jobId?: string): Promise<void>;
  links(): Promise<JobLinks['links']>;
  linkId(name: string): Promise<string>;
  link(name: string): Promise<LinkView>;
  get(path: string): request.Test;
  post(path: string, body?: object): request.Test;
  /** sends bytes as they are */
  upload(path: string, bytes: Buffer): request.Test;
  put(path: string, body: object): request.Test;
  patch(path: string, body: object): request.Test;
  delete(path: string): request.Test;
}

interface Start {
  /** a database that another test server left; else a fresh copy of the demo */
  over?: string;
  /** with all readings of the demo, where they are the point; else with few */
  whole?: boolean;
  /** with files read and devices asked in processes of their own, where that is the point; else in this one */
  apart?: boolean;
  opening?: Opening;
  /** where the commands of this computer stand */
  commandsFile?: string;
  /** what a browser of this computer shows to be its owner's */
  hereToken?: string;
}

/** Starts over a database of its own. */
export async function startTestServer({
  over,
  whole = false,
  apart = false,
  opening,
  commandsFile,
  hereToken,
}: Start = {}): Promise<TestServer> {
  const databaseUrl = over ?? (await copyTemplate(whole ? wholeTemplate : templateName));
  const sequelize = connect(databaseUrl);
  const intake = apart ? undefined : new IntakeHere(sequelize);
  const parts = await createApp(sequelize, pino({ level: process.env.KIVRAM_TEST_LOG ?? 'silent' }), {
    opening,
    intake,
    devices: apart ? undefined : new DevicesHere(),
    commandsFile,
    hereToken,
  });
  await opening?.listen(parts.app);
  await parts.alignments.resume();
  const browser = request.agent(parts.app).set('host', '127.0.0.1');
  if (hereToken) await browser.get(`/?here=${hereToken}`);
  const get = (path: string) => browser.get(path);
  const jobId = (await get('/api/jobs')).body[0].id as string;
  const { crew } = (await get(`/api/jobs/${jobId}`)).body as JobView;
  const crewMemberId = crew[0]?.id ?? '';
  await browser.put('/api/session').send({ crewMemberId });
  const links = async (): Promise<JobLinks['links']> => {
    const { status, body } = await get(`/api/jobs/${jobId}/links?limit=500`);
    if (status !== 200) throw new Error(`the links of the job are answered by ${status}: ${JSON.stringify(body)}`);
    return (body as JobLinks).links;
  };
  const linkId = async (name: string): Promise<string> => (await links()).find((l) => l.name === name)?.id ?? '';
  return {
    ...parts,
    sequelize,
    databaseUrl,
    jobId,
    crewMemberId,
    author: () => authorOf(randomUUID(), { [jobId]: crewMemberId }),
    lead: async (ofJob = jobId) => {
      const { crew: members } = (await get(`/api/jobs/${ofJob}`)).body as JobView;
      const lead = members.find((member) => member.role === 'lead' && !member.leftAt);
      await browser.put('/api/session').send({ crewMemberId: lead?.id });
    },
    links,
    linkId,
    link: async (name) => (await get(`/api/links/${await linkId(name)}`)).body as LinkView,
    get,
    post: (path, body = {}) => browser.post(path).send(body),
    upload: (path, bytes) => browser.post(path).set('content-type', 'application/octet-stream').send(bytes),
    put: (path, body) => browser.put(path).send(body),
    patch: (path, body) => browser.patch(path).send(body),
    delete: (path) => browser.delete(path),
    close: async () => {
      opening?.close();
      await parts.close();
      await sequelize.close();
    },
  };
}

async function copyTemplate(template: string): Promise<string> {
  const name = `kivram_${randomUUID().replaceAll('-', '').slice(0, 12)}`;
  await administer(`CREATE DATABASE ${name} TEMPLATE ${template} STRATEGY file_copy`);
  return databaseNamed(name);
}
