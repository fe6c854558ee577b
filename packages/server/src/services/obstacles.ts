import type { Obstacle, ObstacleFields } from '@kivram/contract/entities/obstacle';
import type { ObstacleBody } from '@kivram/contract/requests/obstacle';
import type { ObstacleKind } from '@kivram/core/path/obstacle';
import { obstacleRules } from '@kivram/core/path/obstacles';
import type { Sequelize, Transaction } from 'sequelize';
import { JobRow } from '../database/models/job';
import { ObstacleRow } from '../database/models/obstacle';
import { ApiProblem, notFound } from '../http/apiProblem';
import type { Author } from '../http/author';
import { differing, jobOf, lockVersion, makeChange, sentence } from './changes';

/** What installers saw standing in the way. */
export class Obstacles {
  constructor(private readonly sequelize: Sequelize) {}

  async create(jobId: string, fields: ObstacleFields, author: Author): Promise<ObstacleRow> {
    if (!(await JobRow.findByPk(jobId))) throw notFound('job');
    checkShape(fields);
    const id = await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await ObstacleRow.create({ ...fields, jobId }, { transaction });
      await note({ kind: 'plan', summary: `Noted ${nameOf(row)}, ${row.heightM} m high` });
      return row.id;
    });
    return ObstacleRow.findByPk(id, { rejectOnEmpty: true });
  }

  async change(id: string, { version, ...fields }: ObstacleBody, author: Author): Promise<ObstacleRow> {
    checkShape(fields);
    const jobId = await jobOf(ObstacleRow, id, 'obstacle');
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      const row = await lockVersion(ObstacleRow, id, version, 'obstacle', transaction);
      const differences = differing(row.get({ plain: true }), fields);
      if (!differences.length) return null;
      await row.update(fields, { transaction });
      await note({
        kind: 'plan',
        summary: `Changed ${nameOf(row)}: ${sentence(differences)}`,
        detail: { differences },
      });
      return null;
    });
    return ObstacleRow.findByPk(id, { rejectOnEmpty: true });
  }
}

export async function obstaclesOf(jobId: string, transaction?: Transaction): Promise<Obstacle[]> {
  const rows = await ObstacleRow.findAll({
    where: { jobId },
    transaction,
    order: [
      ['name', 'ASC'],
      ['id', 'ASC'],
    ],
  });
  return rows.map(viewObstacle);
}

export function viewObstacle(row: ObstacleRow): Obstacle {
  const { jobId, ...view } = row.get({ plain: true });
  void jobId;
  return view;
}

/** Fewer go round nothing. */
const leastCorners = 3;

/** Only water has no footprint, and everything else has a height and a width. */
function checkShape({ kind, footprint, isArea, widthM, heightM }: ObstacleFields): void {
  const refuse = (detail: string): never => {
    throw new ApiProblem(422, 'Not possible', detail);
  };
  if (kind === 'water') {
    if (footprint.length) refuse('Water lies wherever the ground is lower than its level; it takes no position.');
    return;
  }
  if (!footprint.length) refuse('Say where it stands: put it on the map or at a distance on the profile.');
  if (isArea && footprint.length < leastCorners)
    refuse(
      `An area has at least ${leastCorners} corners; this one has ${footprint.length}. Put more down, or make it a line.`,
    );
  if (!isArea && !(widthM > 0)) refuse(`A width of ${widthM} m hides nothing: measure how wide it is.`);
  if (!(heightM > 0)) refuse(`A height of ${heightM} m hides nothing: measure how high it stands above the ground.`);
}

/** How an obstacle is called where it has no name of its own. */
export function nameOf({ name, kind }: { name: string; kind: ObstacleKind }): string {
  return name || obstacleRules[kind].words;
}
