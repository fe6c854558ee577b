import type { JobRole } from '@kivram/contract/entities/crewMember';
import type { NewInvitationBody, NewPersonBody, PersonBody } from '@kivram/contract/requests/people';
import type { InvitationView, KnownPerson, PeopleView, PersonView, SessionLine } from '@kivram/contract/views/people';
import { createHash, randomBytes } from 'node:crypto';
import { Op, QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { CrewMemberRow } from '../database/models/crewMember';
import { EventRow } from '../database/models/event';
import { JobRow } from '../database/models/job';
import { PersonRow } from '../database/models/person';
import type { Author } from '../http/author';
import { ApiProblem, notFound } from '../http/apiProblem';
import { jobsLedBy, type Who } from '../http/who';
import { jobOf, lockJob, makeChange } from './changes';
import { freeName } from './freeName';

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
    const names = new Map(persons.map(({ id, name }) => [id, name]));
    return {
      known: leads ? await this.knownTo(asks, jobId) : [],
      people: rows.map((row): PersonView => ({
        ...viewMember(row),
        signsInAs: (leads && names.get(row.personId ?? '')) || null,
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
      if (known)
        throw new ApiProblem(
          409,
          'Name taken',
          known.leftAt
            ? `${known.name} worked on this job before: take them back below, or add a family name if this is somebody else.`
            : `${known.name} is in the crew already: add a family name, or a number.`,
        );
      await CrewMemberRow.create({ jobId, name: wanted, role }, { transaction });
      await note({ kind: 'people', summary: `Added ${wanted} as ${role}` });
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
   * Makes a code that lets a phone in as somebody, once. A person is no name: one who has not signed in yet becomes a new person, whatever others are called. Whoever is let in has that
   * person's part in all their jobs, so over the network only who leads all of these may give it away. With `sameAs` it lets nobody in: somebody of another job, which whoever asks leads
   * too, may join this one by it, once they have signed in.
   * What is answered is not kept, so this is no change that can be asked for twice.
   */
  async invite(memberId: string, { sameAs }: NewInvitationBody, asks: Who): Promise<InvitationView> {
    const code = randomBytes(codeBytes).toString('base64url');
    const expiresAt = new Date(Date.now() + invitationMs);
    return this.sequelize.transaction(async (transaction) => {
      const member = await CrewMemberRow.findByPk(memberId, { transaction, lock: true });
      if (!member) throw notFound('crew member');
      if (member.leftAt)
        throw new ApiProblem(409, 'Left', `${member.name} works on this job no longer: take them back first.`);
      const joining = sameAs === undefined ? null : await this.joining(member, sameAs, asks, transaction);
      if (!joining && member.personId && !(await leadsAllJobsOf(member.personId, asks, transaction)))
        throw new ApiProblem(
          403,
          'Works elsewhere too',
          `${member.name} works on other jobs too, which you do not lead. Invite them at the computer itself, or they come in with their password.`,
        );
      await this.sequelize.query(
        `DELETE FROM invitation WHERE crew_member_id = :memberId OR expires_at < now() - interval '1 day'`,
        { transaction, replacements: { memberId } },
      );
      await this.sequelize.query(
        'INSERT INTO invitation (code_hash, crew_member_id, person_id, expires_at) VALUES (:hash, :memberId, :personId, :expiresAt)',
        { transaction, replacements: { hash: hashOf(code), memberId, personId: joining?.id ?? null, expiresAt } },
      );
      const { name, role } = member;
      return { code, name, role, joinsAs: joining?.name ?? null, expiresAt: expiresAt.toISOString() };
    });
  }

  /**
   * Takes a code, which nobody can take again.
   * @param signedIn who takes it, where they have signed in, and by which session
   * @returns whom it lets in; null where it let nobody in, but has given a job to whoever has signed in
   */
  async takeInvitation(
    code: string,
    signedIn: { personId: string | null; sessionId: string },
  ): Promise<PersonRow | null> {
    return this.sequelize.transaction(async (transaction) => {
      const [invitation] = await this.sequelize.query<{ memberId: string; joinsAs: string | null }>(
        `SELECT crew_member_id AS "memberId", person_id AS "joinsAs" FROM invitation
         WHERE code_hash = :hash AND used_at IS NULL AND expires_at > now() FOR UPDATE`,
        { type: QueryTypes.SELECT, transaction, replacements: { hash: hashOf(code) } },
      );
      const member = invitation && (await CrewMemberRow.findByPk(invitation.memberId, { transaction, lock: true }));
      if (!member || member.leftAt || (invitation.joinsAs && member.personId)) throw noSuchInvitation();
      if (invitation.joinsAs && invitation.joinsAs !== signedIn.personId) {
        const { name } = await PersonRow.findByPk(invitation.joinsAs, { transaction, rejectOnEmpty: true });
        throw new ApiProblem(
          403,
          'Sign in first',
          `This invitation is for ${name}, who signs in here already: sign in as ${name} on this phone, then open it again.`,
        );
      }
      await this.sequelize.query('UPDATE invitation SET used_at = now() WHERE code_hash = :hash', {
        transaction,
        replacements: { hash: hashOf(code) },
      });
      await EventRow.create(
        {
          jobId: member.jobId,
          crewMemberId: member.id,
          kind: 'people',
          summary: `${member.name} came in by an invitation`,
          detail: {},
        },
        { transaction },
      );
      if (invitation.joinsAs) {
        await this.leaveOthersBehind(invitation.joinsAs, signedIn.sessionId, transaction);
        await member.update({ personId: invitation.joinsAs }, { transaction });
        return null;
      }
      if (member.personId) return PersonRow.findByPk(member.personId, { transaction });
      const person = await this.newPerson(member.name, transaction);
      await member.update({ personId: person.id }, { transaction });
      return person;
    });
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

  /**
   * Before somebody gets a part in another job: whoever leads the jobs they had could let themselves in as them, and set a password. What was opened so must not open the new one, so
   * only the phone that confirms stays signed in, and the password is set anew.
   */
  private async leaveOthersBehind(personId: string, sessionId: string, transaction: Transaction): Promise<void> {
    await this.sequelize.query(
      `DELETE FROM session WHERE person_id = :personId AND sid <> :sessionId;
       DELETE FROM invitation WHERE used_at IS NULL AND crew_member_id IN (SELECT id FROM crew_member WHERE person_id = :personId);
       UPDATE person SET password_hash = NULL WHERE id = :personId`,
      { transaction, replacements: { personId, sessionId } },
    );
  }

  /** Who is said to be somebody of a crew, by whoever leads both jobs. @throws ApiProblem */
  private async joining(
    member: CrewMemberRow,
    sameAs: string,
    asks: Who,
    transaction: Transaction,
  ): Promise<PersonRow> {
    const other = await CrewMemberRow.findByPk(sameAs, { transaction });
    if (!other?.personId || (!asks.isHere && asks.members.get(other.jobId)?.role !== 'lead'))
      throw notFound('crew member');
    if (member.personId)
      throw new ApiProblem(409, 'Signs in already', `${member.name} signs in to this job already, as somebody else.`);
    if (await CrewMemberRow.count({ where: { jobId: member.jobId, personId: other.personId }, transaction }))
      throw new ApiProblem(409, 'Works here already', `${other.name} works on this job already, under another name.`);
    return PersonRow.findByPk(other.personId, { transaction, rejectOnEmpty: true });
  }

  /** Whom somebody may say to be one of a crew: those who sign in to other jobs that they lead. */
  private async knownTo(asks: Who, jobId: string): Promise<KnownPerson[]> {
    const led = jobsLedBy(asks);
    return this.sequelize.query<KnownPerson>(
      `SELECT DISTINCT ON (p.id) m.id AS "memberId", p.name, j.name AS "jobName"
       FROM person p JOIN crew_member m ON m.person_id = p.id JOIN job j ON j.id = m.job_id
       WHERE m.left_at IS NULL AND m.job_id <> :jobId AND (:all OR m.job_id IN (:led))
         AND NOT EXISTS (SELECT 1 FROM crew_member here WHERE here.job_id = :jobId AND here.person_id = p.id)
       ORDER BY p.id, j.name`,
      {
        type: QueryTypes.SELECT,
        replacements: { jobId, all: led === null, led: led?.length ? led : [null] },
      },
    );
  }

  /** A new person, under a name that nobody else signs in by. */
  private async newPerson(name: string, transaction: Transaction): Promise<PersonRow> {
    // Two who come in at the same moment meet here.
    await this.sequelize.query('LOCK TABLE person IN SHARE ROW EXCLUSIVE MODE', { transaction });
    const persons = await PersonRow.findAll({ attributes: ['name'], transaction });
    const taken = new Set(persons.map((person) => person.name.toLowerCase()));
    return PersonRow.create(
      { name: freeName(name, { has: (free) => taken.has(free.toLowerCase()) }, 60) },
      { transaction },
    );
  }
}

const noSuchInvitation = (): ApiProblem =>
  new ApiProblem(
    403,
    'No such invitation',
    'This invitation lets nobody in: it was used, or is older than ten minutes. Ask for another one at the computer.',
  );

/** Whether somebody leads every job that a person works on; at the computer itself everybody does. */
async function leadsAllJobsOf(personId: string, asks: Who, transaction: Transaction): Promise<boolean> {
  if (asks.isHere) return true;
  const theirs = await CrewMemberRow.findAll({ where: { personId, leftAt: null }, transaction });
  return theirs.every(({ jobId }) => asks.members.get(jobId)?.role === 'lead');
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
