import type { LinkView } from '@kivram/contract';
import { Op } from 'sequelize';
import { AlignmentRow, PlaceRow, ThroughputTestRow } from '../database/models';
import { summariseAlignment } from './alignmentViews';
import { loadWithSharers } from './linkRecords';
import { doneOn, recordBasis, sharedOf, stateOf } from './linkStates';
import { viewPlace, viewTest } from './rowViews';

/** A link with everything that a page needs to compute on it. */
export async function viewLink(linkId: string): Promise<LinkView> {
  const { record, onAir } = await loadWithSharers(linkId);
  const { job, link, air, near, far, law, laws, terrain } = record;
  const [done, others, running, tests] = await Promise.all([
    doneOn([linkId]),
    PlaceRow.findAll({
      where: { jobId: job.id, id: { [Op.notIn]: [near.place.id, far.place.id] } },
      order: [['name', 'ASC']],
    }),
    AlignmentRow.findOne({ where: { linkId, state: 'running' } }),
    ThroughputTestRow.findAll({ where: { linkId }, order: [['at', 'DESC']], attributes: { exclude: ['raw'] } }),
  ]);
  const finished = done.alignment.get(linkId);
  return {
    link,
    air,
    country: job.country,
    practice: job.practice,
    law,
    laws: [...laws],
    near,
    far,
    sharers: onAir.filter((r) => r !== record).map((r) => ({ id: r.link.id, name: r.link.name })),
    shared: sharedOf(record, onAir),
    terrain,
    landmarks: others.map(viewPlace),
    state: stateOf(record, onAir, done),
    basis: recordBasis(record),
    alignment: finished ? summariseAlignment(finished) : null,
    running: running && summariseAlignment(running),
    tests: tests.map(viewTest),
  };
}
