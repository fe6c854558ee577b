import type { PathCheckBody } from '@kivram/contract/requests/pathCheck';
import type { PathCheck } from '@kivram/contract/views/pathCheck';
import { planOf } from '@kivram/core/budget/plan';
import { judgeInstruments, predictInstruments, type InstrumentPrediction } from '@kivram/core/instruments/school';
import { faultsOf } from '@kivram/core/instruments/setup';
import type { Sequelize } from 'sequelize';
import { PathCheckRow } from '../database/models/pathCheck';
import type { Author } from '../http/author';
import { ApiProblem } from '../http/apiProblem';
import { makeChange } from './changes';
import { loadLink, type LinkRecord } from './linkRecords';

/** Paths measured with a generator and an analyser: before radios are bought, or beside them. */
export class PathChecks {
  constructor(private readonly sequelize: Sequelize) {}

  async list(linkId: string): Promise<PathCheck[]> {
    const rows = await PathCheckRow.findAll({ where: { linkId }, order: [['at', 'DESC']] });
    return rows.map(viewCheck);
  }

  /** @throws ApiProblem where the setup cannot be, or the link has no geometry */
  async store(linkId: string, { setup, ticked, readingsDbm }: PathCheckBody, author: Author): Promise<PathCheck> {
    const record = await loadLink(linkId);
    const [fault] = faultsOf(setup);
    if (fault) throw new ApiProblem(422, 'Not possible', fault);
    const prediction = predicted(record, setup);
    const judgement = judgeInstruments(readingsDbm, prediction, setup);
    const id = await makeChange(this.sequelize, record.job.id, author, async ({ transaction, crewMemberId, note }) => {
      const plain = { setup: { ...setup }, ticked, readingsDbm, predictedDbm: prediction.levelDbm, judgement };
      const row = await PathCheckRow.create({ ...plain, linkId, crewMemberId }, { transaction });
      await note({ linkId, kind: 'alignment', summary: `Measured the path with instruments: ${judgement.words}` });
      return row.id;
    });
    return viewCheck(await PathCheckRow.findByPk(id, { rejectOnEmpty: true }));
  }
}

function predicted(record: LinkRecord, setup: PathCheckBody['setup']): InstrumentPrediction {
  try {
    return predictInstruments(planOf(record), setup);
  } catch (error) {
    throw new ApiProblem(422, 'No geometry', error instanceof Error ? error.message : 'The link has no geometry.');
  }
}

function viewCheck({
  id,
  at,
  crewMemberId,
  setup,
  ticked,
  readingsDbm,
  predictedDbm,
  judgement,
}: PathCheckRow): PathCheck {
  return { id, at: at.toISOString(), crewMemberId, setup, ticked, readingsDbm, predictedDbm, ...judgement };
}
