import type { Alternative, AlternativeFields } from '@kivram/contract/entities/alternative';
import { Op, type Sequelize, type Transaction } from 'sequelize';
import { AlternativeRow } from '../database/models/alternative';
import { LinkRow } from '../database/models/link';
import type { Author } from '../http/author';
import { ApiProblem, notFound } from '../http/apiProblem';
import { jobOf, lockVersion, madeBefore, makeChange } from './changes';

/** More kept plans of one link nobody looks through. */
const most = 20;

/** Plans of a link that were tried and are kept beside the one in place. */
export class Alternatives {
  constructor(private readonly sequelize: Sequelize) {}

  /** Keeps a plan under a name; what was kept under that name before gives way, and the timeline says so. */
  async keep(linkId: string, { name, choices }: AlternativeFields, author: Author): Promise<void> {
    const jobId = await jobOf(LinkRow, linkId, 'link');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, crewMemberId, note }) => {
      // Of two who keep plans of one link at once the second waits.
      await LinkRow.findByPk(linkId, { transaction, lock: transaction.LOCK.NO_KEY_UPDATE });
      const kept = await AlternativeRow.findAll({ where: { linkId }, transaction });
      const same = kept.find((row) => row.name.toLowerCase() === name.toLowerCase());
      if (!same && kept.length >= most)
        throw new ApiProblem(422, 'Not possible', `${most} plans are kept already: throw one away first.`);
      if (same) await same.update({ name, choices, crewMemberId, madeAt: new Date() }, { transaction });
      else await AlternativeRow.create({ linkId, name, choices, crewMemberId }, { transaction });
      await note({
        linkId,
        kind: 'plan',
        summary: `Kept the plan "${name}" ${same ? 'anew' : 'beside the one in place'}`,
      });
      return null;
    });
  }

  async remove(id: string, version: number, author: Author): Promise<void> {
    if (await madeBefore(author)) return;
    const known = await AlternativeRow.findByPk(id);
    if (!known) throw notFound('kept plan');
    const jobId = await jobOf(LinkRow, known.linkId, 'link');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await lockVersion(AlternativeRow, id, version, 'kept plan', transaction);
      await note({
        linkId: row.linkId,
        kind: 'plan',
        summary: `Threw the plan "${row.name}" away`,
        detail: { choices: row.choices },
      });
      await row.destroy({ transaction });
      return null;
    });
  }
}

/** The kept plans of some links, by name. */
export async function alternativesOf(linkIds: readonly string[], transaction?: Transaction): Promise<AlternativeRow[]> {
  return AlternativeRow.findAll({
    where: { linkId: { [Op.in]: [...linkIds] } },
    order: [
      ['name', 'ASC'],
      ['id', 'ASC'],
    ],
    transaction,
  });
}

export function viewAlternative(row: AlternativeRow): Alternative {
  const { linkId, madeAt, ...view } = row.get({ plain: true });
  void linkId;
  return { ...view, madeAt: madeAt.toISOString() };
}
