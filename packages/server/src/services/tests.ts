import {
  judgeThroughput,
  planOf,
  toMbps,
  tryPredict,
  unitConfusion,
  type Direction,
  type DirectionExpectation,
  type EvidenceKind,
  type LinkPlan,
} from '@kivram/core';
import type { HandTestBody, ImportTestBody, ThroughputTest } from '@kivram/contract';
import { createHash } from 'node:crypto';
import type { Sequelize } from 'sequelize';
import { AlignmentRow, NetworkRow, ThroughputTestRow } from '../database/models';
import { readIperf3, type TestFile } from '../formats/iperf3';
import type { Author } from '../http/author';
import type { StandinWorlds } from '../radio/standinWorlds';
import { makeChange } from './changes';
import { loadLink, predictionOf, type LinkRecord } from './linkRecords';
import { needOf, recordBasis } from './linkStates';
import { viewTest } from './rowViews';

type Measured = Omit<TestFile, 'raw' | 'seconds'> & {
  seconds: number | null;
  source: 'iperf3' | 'standin' | 'hand';
  fileName: string | null;
  note: string;
  raw: Record<string, unknown> | null;
  sha256: string | null;
};

/** How a test is known, by where it came from. */
const kindOf: Record<Measured['source'], EvidenceKind> = { iperf3: 'measured', standin: 'standin', hand: 'told' };

/** Throughput tests: read, run or noted; each is judged when it is stored. */
export class Tests {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly worlds: StandinWorlds,
  ) {}

  async importFile(linkId: string, body: ImportTestBody, author: Author): Promise<ThroughputTest> {
    const record = await loadLink(linkId);
    const file = readIperf3(body.text, body.clientAt);
    const sha256 = createHash('sha256').update(body.text).digest('hex');
    return this.store(record, author, { ...file, source: 'iperf3', fileName: body.fileName, note: '', sha256 });
  }

  /** Lets the stand-in radios carry frames for ten seconds. @throws ApiProblem where they are no link */
  async runStandin(linkId: string, direction: Direction, author: Author): Promise<ThroughputTest> {
    const raw = await this.worlds.runThroughput(linkId, direction);
    const file = readIperf3(JSON.stringify(raw), 'near');
    return this.store(await loadLink(linkId), author, {
      ...file,
      source: 'standin',
      fileName: null,
      note: '',
      sha256: null,
    });
  }

  async noteByHand(linkId: string, body: HandTestBody, author: Author): Promise<ThroughputTest> {
    const record = await loadLink(linkId);
    const { prediction } = predictionOf(record);
    const warning = prediction
      ? (unitConfusion(body.value, body.unit, prediction[body.direction].aloneMbps) ?? null)
      : null;
    return this.store(record, author, {
      at: body.at ? new Date(body.at) : new Date(),
      direction: body.direction,
      protocol: 'TCP',
      mbps: toMbps(body.value, body.unit),
      seconds: null,
      retransmits: null,
      lossShare: null,
      jitterMs: null,
      aborted: false,
      bothLoaded: false,
      warning,
      source: 'hand',
      fileName: null,
      note: body.note,
      raw: null,
      sha256: null,
    });
  }

  private async store(record: LinkRecord, author: Author, measured: Measured): Promise<ThroughputTest> {
    const { direction, bothLoaded } = measured;
    const linkId = record.link.id;
    const against = await expectations(record, direction);
    const verdict = judgeThroughput({
      measuredMbps: measured.mbps,
      aborted: measured.aborted,
      bothLoaded,
      ...against,
      needMbps: needOf(record)[direction],
    });
    const testId = await makeChange(
      this.sequelize,
      record.job.id,
      author,
      async ({ transaction, crewMemberId, note }) => {
        const { expectation } = against;
        const made = await ThroughputTestRow.create(
          {
            ...measured,
            linkId,
            crewMemberId,
            verdict,
            expectedMbps: bothLoaded ? expectation.bothMbps : expectation.aloneMbps,
            evidenceKind: kindOf[measured.source],
            basis: recordBasis(record),
          },
          { transaction },
        );
        const way = direction === 'nearToFar' ? 'near to far' : 'far to near';
        await note({
          linkId,
          kind: 'test',
          summary: `Tested ${way}: ${measured.mbps.toFixed(1)} Mbit/s, ${verdict.headline}${bothLoaded ? ' (both directions loaded)' : ''}`,
          detail: { testId: made.id },
        });
        return made.id;
      },
    );
    return viewTest(await ThroughputTestRow.findByPk(testId, { rejectOnEmpty: true }));
  }
}

/** What the plan, half its width, and the level last measured let one expect; and what the feed delivers. */
async function expectations(record: LinkRecord, direction: Direction) {
  const plan = planOf(record);
  const alignment = await AlignmentRow.findOne({
    where: { linkId: record.link.id, state: 'finished' },
    order: [['startedAt', 'DESC']],
  });
  const shortDb = Math.max(alignment?.result?.near.shortDb ?? 0, alignment?.result?.far.shortDb ?? 0);
  const network = await NetworkRow.findOne({ where: { jobId: record.job.id } });
  const halved = { ...plan, air: { ...plan.air, widthMHz: plan.air.widthMHz / 2 } };
  return {
    expectation: expect(plan, direction),
    halfWidth: expect(halved, direction),
    atMeasuredLevel: shortDb > 3 ? expect(weaker(plan, shortDb), direction) : null,
    feedMbps: network?.feedMbps ?? null,
  };
}

const nothing: DirectionExpectation = { lines: [], aloneMbps: 0, bothMbps: 0, limitedBy: 'nolink' };

function expect(plan: LinkPlan, direction: Direction): DirectionExpectation {
  return tryPredict(plan).prediction?.[direction] ?? nothing;
}

/** The plan with so much more loss in the path. */
function weaker(plan: LinkPlan, lossDb: number): LinkPlan {
  return { ...plan, near: { ...plan.near, cableLossDb: plan.near.cableLossDb + lossDb } };
}
