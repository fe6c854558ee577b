import type { Cable, CableFields } from '@kivram/contract/entities/need';
import type { GraphCable } from '@kivram/core/topology/graph';
import type { Sequelize, Transaction } from 'sequelize';
import { CableRow } from '../database/models/cable';
import { JobRow } from '../database/models/job';
import { PlaceRow } from '../database/models/place';
import type { Author } from '../http/author';
import { ApiProblem, notFound } from '../http/apiProblem';
import { jobOf, lockVersion, madeBefore, makeChange } from './changes';

/** Cables between the places of a job. */
export class Cables {
  constructor(private readonly sequelize: Sequelize) {}

  async create(jobId: string, fields: CableFields, author: Author): Promise<void> {
    const { aPlaceId, bPlaceId, name, mbps } = fields;
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    if (aPlaceId === bPlaceId)
      throw new ApiProblem(422, 'Not possible', 'Both ends are at one place: a switch joins what stands there.');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const places = await PlaceRow.findAll({ where: { id: [aPlaceId, bPlaceId], jobId }, transaction });
      const at = (id: string): string => {
        const place = places.find((row) => row.id === id);
        if (!place) throw notFound('place');
        return place.name;
      };
      const summary = `Noted the cable ${name} from ${at(aPlaceId)} to ${at(bPlaceId)}, ${mbps} Mbit/s`;
      await CableRow.create({ ...fields, jobId }, { transaction });
      await note({ kind: 'plan', summary });
      return null;
    });
  }

  async remove(id: string, version: number, author: Author): Promise<void> {
    if (await madeBefore(author)) return;
    const jobId = await jobOf(CableRow, id, 'cable');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await lockVersion(CableRow, id, version, 'cable', transaction);
      await note({ kind: 'plan', summary: `Took the cable ${row.name} away`, detail: row.get({ plain: true }) });
      await row.destroy({ transaction });
      return null;
    });
  }
}

export async function cablesOf(jobId: string, transaction?: Transaction): Promise<Cable[]> {
  const rows = await CableRow.findAll({
    where: { jobId },
    order: [
      ['name', 'ASC'],
      ['id', 'ASC'],
    ],
    transaction,
  });
  return rows.map((row) => {
    const { jobId: _, ...view } = row.get({ plain: true });
    void _;
    return view;
  });
}

/** As traffic sees them. */
export function graphCables(cables: readonly Cable[]): GraphCable[] {
  return cables.map(({ id, aPlaceId: a, bPlaceId: b, mbps }) => ({ id, a, b, mbps }));
}
