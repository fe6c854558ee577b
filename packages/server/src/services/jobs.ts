import type { JobBody, NewJobBody } from '@kivram/contract/requests/job';
import type { Sequelize, Transaction } from 'sequelize';
import { advisoryLock } from '../database/locks';
import { CrewMemberRow } from '../database/models/crewMember';
import { EventRow } from '../database/models/event';
import { JobRow } from '../database/models/job';
import { documentOf } from '../formats/jobDocument/export';
import { newIds, renamed } from '../formats/jobDocument/ids';
import { insertDocument } from '../formats/jobDocument/import';
import { anew, type Author } from '../http/author';
import { ApiProblem, notFound } from '../http/apiProblem';
import { defined, differing, lockVersion, makeChange, makeOnce, sentence } from './changes';

/** Jobs themselves: begun, renamed, put away, removed. */
export class Jobs {
  constructor(private readonly sequelize: Sequelize) {}

  /**
   * Makes a job under the identifier of the change, with the one who makes it as its first crew member: asked for again, it is there already.
   * @param person who makes it, where they have signed in
   */
  async create(
    { workerName, copyOf, ...fields }: NewJobBody,
    author: Author,
    person: { id: string; name: string } | null,
  ): Promise<Pick<CrewMemberRow, 'id' | 'jobId'>> {
    const { changeId } = author;
    return makeOnce(this.sequelize, author, async (transaction) => {
      await refuseTwin(this.sequelize, fields.name, null, transaction);
      const from = copyOf ? await this.copyPlan(copyOf, { ...fields, id: changeId }, transaction) : null;
      if (!from) await JobRow.create({ ...fields, id: changeId }, { transaction });
      const member = await CrewMemberRow.create(
        { jobId: changeId, name: person?.name ?? workerName.trim(), personId: person?.id ?? null, role: 'lead' },
        { transaction },
      );
      await EventRow.create(
        {
          jobId: changeId,
          crewMemberId: member.id,
          changeId,
          linkId: null,
          kind: 'job',
          summary: from ? `Began the job with the plan of ${from}` : 'Began the job',
          detail: {},
        },
        { transaction },
      );
      return { id: member.id, jobId: changeId };
    });
  }

  /** Copies places, network, obstacles and plans; nothing that was measured, set or delivered. @returns the name of the job it came from */
  private async copyPlan(
    copyOf: string,
    fields: Pick<JobRow, 'id' | 'name' | 'customer' | 'country' | 'units'> & { practice?: boolean },
    transaction: Transaction,
  ): Promise<string> {
    const source = await documentOf(copyOf, false, transaction);
    const bare = {
      ...source,
      crew: [],
      sheets: [],
      logins: [],
      benchRuns: [],
      alignments: [],
      tests: [],
      events: [],
      visits: [],
      alternatives: source.alternatives?.map((kept) => ({ ...kept, crewMemberId: null })),
      photos: [],
      radios: source.radios.map((radio) => ({
        ...radio,
        serial: null,
        mac: null,
        mountedAt: null,
        mountedBy: null,
        mountBasis: null,
      })),
      devices: [],
    };
    const copy = renamed(bare, newIds(bare));
    const job = { ...copy.job, ...fields, practice: fields.practice ?? false, archivedAt: null, version: 0 };
    await insertDocument({ ...copy, job }, transaction);
    return source.job.name;
  }

  async change(jobId: string, { version, archived, ...changes }: JobBody, author: Author): Promise<JobRow> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await lockVersion(JobRow, jobId, version, 'job', transaction);
      if (changes.name !== undefined) await refuseTwin(this.sequelize, changes.name, jobId, transaction);
      const differences = differing(row.get({ plain: true }), changes);
      const moves = archived !== undefined && archived !== (row.archivedAt !== null);
      if (!differences.length && !moves) return null;
      await row.update(
        { ...defined(changes), ...(moves && { archivedAt: archived ? new Date() : null }) },
        { transaction },
      );
      const said = [
        ...(differences.length ? [`Changed the job: ${sentence(differences)}`] : []),
        ...(moves ? [archived ? 'Put the job away' : 'Took the job up again'] : []),
      ];
      await note({ kind: 'job', summary: said.join('. '), detail: { differences } });
      return null;
    });
    return JobRow.findByPk(jobId, { rejectOnEmpty: true });
  }

  /** Says on the timeline that somebody takes the job along with its passphrases, before they do. */
  async noteSecretsTaken(jobId: string, author: Author): Promise<void> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    await makeChange(this.sequelize, jobId, anew(author), async ({ note }) => {
      await note({ kind: 'job', summary: 'Took the job along as a file with passphrases and passwords' });
      return null;
    });
  }

  /** Removes a job with all that is in it, where its name is given. */
  async remove(jobId: string, name: string | undefined, author: Author): Promise<void> {
    author.memberOf(jobId);
    await this.sequelize.transaction(async (transaction) => {
      const job = await JobRow.findByPk(jobId, { transaction, lock: true });
      if (!job) throw notFound('job');
      if (name !== job.name) {
        throw new ApiProblem(
          422,
          'Not the name',
          `To remove this job with all that is in it, give its name: ${job.name}`,
        );
      }
      await job.destroy({ transaction });
    });
  }
}

/** Two jobs of one name could not be told apart in the list. */
async function refuseTwin(
  sequelize: Sequelize,
  name: string,
  jobId: string | null,
  transaction: Transaction,
): Promise<void> {
  // Several at once would each find the name free.
  await advisoryLock(sequelize, 'jobNames', transaction);
  const jobs = await JobRow.findAll({ attributes: ['id', 'name'], transaction });
  const twin = jobs.find((job) => job.id !== jobId && job.name.trim().toLowerCase() === name.trim().toLowerCase());
  if (twin)
    throw new ApiProblem(409, 'Name taken', `A job called ${name.trim()} is here already: give this one another name.`);
}
