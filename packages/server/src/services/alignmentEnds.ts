import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';

/** Which alignments: one, or all of a job. */
type Which = { alignmentId: string } | { jobId: string };

/** Ends alignments that still run, in the program's own name, each with a line in the timeline; what they have is kept. @returns how many ran */
export async function endAlignments(
  sequelize: Sequelize,
  which: Which,
  summary: string,
  transaction?: Transaction,
): Promise<number> {
  const ended = await sequelize.query(
    `WITH ended AS (
       UPDATE alignment a SET state = 'abandoned', finished_at = greatest(now(), a.started_at) FROM link l
       WHERE l.id = a.link_id AND a.state = 'running' AND ${'jobId' in which ? 'l.job_id = :jobId' : 'a.id = :alignmentId'}
       RETURNING a.id, a.link_id, l.job_id)
     INSERT INTO event (job_id, link_id, kind, summary, detail)
     SELECT job_id, link_id, 'alignment', :summary, jsonb_build_object('alignmentId', id) FROM ended RETURNING id`,
    { type: QueryTypes.SELECT, transaction, replacements: { ...which, summary } },
  );
  return ended.length;
}
