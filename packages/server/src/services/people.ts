import type { JobRole } from '@kivram/contract/entities/crewMember';
import type { NewPersonBody, PersonBody } from '@kivram/contract/requests/people';
import type { InvitationView, PeopleView, PersonView, SessionLine } from '@kivram/contract/views/people';
import { createHash, randomBytes } from 'node:crypto';
import { Op, QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { CrewMemberRow } from '../database/models/crewMember';
import { JobRow } from '../database/models/job';
import { PersonRow } from '../database/models/person';
import type { Author } from '../http/author';
import { ApiProblem, notFound } from '../http/apiProblem';
import type { Who } from '../http/who';
import { jobOf, lockJob, makeChange } from './changes';

/** How long an invitation lets somebody in. */
const invitationMs = 10 * 60_000;

/** Random bytes of a code: 2^128 codes, so that no number of guesses within ten minutes comes near one. */
const codeBytes = 16;

/** The crew of a job: who may do what, and how they come in over the network. */
export class People {
  constructor(private readonly sequelize: Sequelize) {}

  /** @param asks whose session it is: sessions are shown to those who lead the job, and everybody's own to them */
  async list(jobId: string, asks: Who, sessionId: string | undefined): Promise<PeopleView> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    const rows = await CrewMemberRow.findAll({ where: { jobId }, order: [['name', 'ASC']] });
    const personIds = rows.flatMap(({ personId }) => personId ?? []);
    const persons = await PersonRow.findAll({ where: { id: personIds } });
    const withPassword = new Set(persons.filter((p) => p.passwordHash).map((p) => p.id));
    const leads = asks.isHere || asks.members.get(jobId)?.role === 'lead';
    const seen = personIds.filter((id) => leads || id === asks.personId);
    const sessions = await this.sessionsOf(seen, sessionId);
    return {
      people: rows.map((row): PersonView => ({
        ...viewMember(row),
        hasPassword: withPassword.has(row.personId ?? ''),
        sessions: sessions.get(row.personId ?? '') ?? [],
      })),
    };
  }

  /** The first of a crew leads it. */
  async joinEmpty(jobId: string, name: string): Promise<CrewMemberRow> {
    return this.sequelize.transaction(async (transaction) => {
      const job = await lockJob(jobId, transaction);
      if (!job) throw notFound('job');
      const crew = await CrewMemberRow.findAll({ where: { jobId }, transaction });
      const known = crew.find((member) => member.name === name.trim());
      // Asked for again, they are there already.
      if (crew.some((member) => member !== known && !member.leftAt))
        throw new ApiProblem(409, 'Not empty', 'This job has a crew: somebody who leads it adds you under People.');
      if (known) return known.update({ leftAt: null, role: 'lead' }, { transaction });
      return CrewMemberRow.create({ jobId, name: name.trim(), role: 'lead' }, { transaction });
    });
  }

  async add(jobId: string, { name, role }: NewPersonBody, author: Author): Promise<void> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    const wanted = name.trim();
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      await lockJob(jobId, transaction);
      const crew = await CrewMemberRow.findAll({ where: { jobId }, transaction });
      const known = crew.find((member) => member.name.toLowerCase() === wanted.toLowerCase());
      if (known && !known.leftAt)
        throw new ApiProblem(
          409,
          'Name taken',
          `${known.name} is in the crew already: add a family name, or a number.`,
        );
      if (known) await known.update({ leftAt: null, role }, { transaction });
      else await CrewMemberRow.create({ jobId, name: wanted, role }, { transaction });
      await note({
        kind: 'people',
        summary: `${known ? 'Took' : 'Added'} ${wanted} ${known ? 'back ' : ''}as ${role}`,
      });
      return null;
    });
  }

  async change(memberId: string, { role, left }: PersonBody, author: Author): Promise<string> {
    const jobId = await jobOf(CrewMemberRow, memberId, 'crew member');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      // Two leads who each make the other a reader meet here.
      await lockJob(jobId, transaction);
      const row = await CrewMemberRow.findByPk(memberId, { transaction, rejectOnEmpty: true });
      const after = { role: role ?? row.role, left: left ?? row.leftAt !== null };
      const others = await CrewMemberRow.count({
        where: { jobId, role: 'lead', leftAt: null, id: { [Op.ne]: memberId } },
        transaction,
      });
      if (!others && (after.left || after.role !== 'lead'))
        throw new ApiProblem(
          409,
          'The last lead',
          `${row.name} is the only one who leads this job: make somebody else a lead first.`,
        );
      const said = [
        ...(after.role === row.role ? [] : [`Made ${row.name} ${after.role} (was ${row.role})`]),
        ...(after.left === (row.leftAt !== null)
          ? []
          : [after.left ? `${row.name} left the job` : `${row.name} is back`]),
      ];
      if (!said.length) return null;
      await row.update({ role: after.role, leftAt: after.left ? (row.leftAt ?? new Date()) : null }, { transaction });
      if (after.left)
        await this.sequelize.query('DELETE FROM invitation WHERE crew_member_id = :memberId', {
          transaction,
          replacements: { memberId },
        });
      await note({ kind: 'people', summary: said.join('. ') });
      return null;
    });
    return jobId;
  }

  /**
   * Makes a code that lets a phone in as somebody, once. Whoever is let in has that person's part in all their jobs: over the network only who leads all of these may give it away.
   * What is answered is not kept, so this is no change that can be asked for twice.
   */
  async invite(memberId: string, asks: Who): Promise<InvitationView> {
    const code = randomBytes(codeBytes).toString('base64url');
    const expiresAt = new Date(Date.now() + invitationMs);
    return this.sequelize.transaction(async (transaction) => {
      const member = await CrewMemberRow.findByPk(memberId, { transaction, lock: true });
      if (!member) throw notFound('crew member');
      if (member.leftAt)
        throw new ApiProblem(409, 'Left', `${member.name} works on this job no longer: take them back first.`);
      const personId = member.personId ?? (await this.personNamed(member.name, transaction));
      const theirs = await CrewMemberRow.findAll({ where: { personId, leftAt: null }, transaction });
      if (!asks.isHere && !theirs.every(({ jobId }) => asks.members.get(jobId)?.role === 'lead'))
        throw new ApiProblem(
          403,
          'Works elsewhere too',
          `${member.name} works on other jobs too, which you do not lead. Invite them at the computer itself, or they come in with their password.`,
        );
      if (!member.personId) {
        if (theirs.some(({ jobId }) => jobId === member.jobId))
          throw new ApiProblem(409, 'Name taken', `Another ${member.name} signs in to this job already.`);
        await member.update({ personId }, { transaction });
      }
      await this.sequelize.query(
        `DELETE FROM invitation WHERE crew_member_id = :memberId OR expires_at < now() - interval '1 day'`,
        { transaction, replacements: { memberId } },
      );
      await this.sequelize.query(
        'INSERT INTO invitation (code_hash, crew_member_id, expires_at) VALUES (:hash, :memberId, :expiresAt)',
        { transaction, replacements: { hash: hashOf(code), memberId, expiresAt } },
      );
      return { code, name: member.name, role: member.role, expiresAt: expiresAt.toISOString() };
    });
  }

  /** Takes a code, which nobody can take again. @returns whom it lets in */
  async takeInvitation(code: string): Promise<PersonRow> {
    const [taken] = await this.sequelize.query<{ personId: string | null }>(
      `UPDATE invitation i SET used_at = now() FROM crew_member m
       WHERE i.code_hash = :hash AND i.used_at IS NULL AND i.expires_at > now() AND m.id = i.crew_member_id AND m.left_at IS NULL
       RETURNING m.person_id AS "personId"`,
      { type: QueryTypes.SELECT, replacements: { hash: hashOf(code) } },
    );
    const person = taken?.personId ? await PersonRow.findByPk(taken.personId) : null;
    if (person) return person;
    throw new ApiProblem(
      403,
      'No such invitation',
      'This invitation lets nobody in: it was used, or is older than ten minutes. Ask for another one at the computer.',
    );
  }

  /** Ends a session of oneself, or of somebody in a job that one leads. */
  async endSession(sessionId: string, asks: Who): Promise<void> {
    const led = [...asks.members].flatMap(([jobId, { role }]) => (role === 'lead' ? [jobId] : []));
    const ended = await this.sequelize.query(
      `DELETE FROM session s WHERE s.id = :sessionId AND (:here OR s.person_id = :personId
         OR EXISTS (SELECT 1 FROM crew_member m WHERE m.person_id = s.person_id AND m.job_id IN (:led))) RETURNING 1`,
      {
        type: QueryTypes.SELECT,
        replacements: { sessionId, here: asks.isHere, personId: asks.personId, led: led.length ? led : [null] },
      },
    );
    if (!ended.length) throw notFound('session');
  }

  private async sessionsOf(personIds: string[], ownId: string | undefined): Promise<Map<string, SessionLine[]>> {
    const lines = new Map<string, SessionLine[]>();
    if (!personIds.length) return lines;
    const rows = await this.sequelize.query<{
      personId: string;
      id: string;
      device: string;
      startedAt: Date;
      usedAt: Date;
    }>(
      `SELECT person_id AS "personId", id, sess ->> 'device' AS device, started_at AS "startedAt", used_at AS "usedAt"
       FROM session WHERE person_id IN (:personIds) AND expire > now() ORDER BY used_at DESC`,
      { type: QueryTypes.SELECT, replacements: { personIds } },
    );
    for (const { personId, id, device, startedAt, usedAt } of rows) {
      const line = {
        id,
        device,
        startedAt: startedAt.toISOString(),
        usedAt: usedAt.toISOString(),
        isThis: id === ownId,
      };
      lines.set(personId, [...(lines.get(personId) ?? []), line]);
    }
    return lines;
  }

  /** The person of a name; a new one where there is none. */
  private async personNamed(name: string, transaction: Transaction): Promise<string> {
    const [row] = await this.sequelize.query<{ id: string }>(
      `INSERT INTO person (name) VALUES (:name) ON CONFLICT (lower(name)) DO UPDATE SET name = person.name RETURNING id`,
      { type: QueryTypes.SELECT, transaction, replacements: { name } },
    );
    return row?.id ?? '';
  }
}

function hashOf(code: string): Buffer {
  return createHash('sha256').update(code).digest();
}

/** A crew member as others see them. */
export function viewMember({ id, name, role, leftAt }: CrewMemberRow): {
  id: string;
  name: string;
  role: JobRole;
  leftAt: string | null;
} {
  return { id, name, role, leftAt: leftAt?.toISOString() ?? null };
}

/** Who has signed in. @throws ApiProblem where they are no longer known */
export async function personBy(id: string): Promise<{ id: string; name: string }> {
  const person = await PersonRow.findByPk(id);
  if (!person) throw notFound('person');
  return { id, name: person.name };
}
