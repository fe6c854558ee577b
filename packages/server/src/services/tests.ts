import { planOf, type LinkPlan } from '@kivram/core/budget/plan';
import { tryPredict } from '@kivram/core/budget/prediction';
import type { EvidenceKind } from '@kivram/core/evidence/evidence';
import type { DirectionExpectation } from '@kivram/core/throughput/expectation';
import type { RunConditions } from '@kivram/core/throughput/run';
import { toMbps, unitConfusion } from '@kivram/core/throughput/unit';
import { judgeThroughput, type Direction } from '@kivram/core/verdict/throughputVerdict';
import type { HandTestBody, ImportTestBody } from '@kivram/contract/requests/test';
import type { ThroughputTest } from '@kivram/contract/views/test';
import { createHash } from 'node:crypto';
import type { Sequelize } from 'sequelize';
import { AlignmentRow } from '../database/models/alignment';
import { NetworkRow } from '../database/models/network';
import { ThroughputTestRow } from '../database/models/throughputTest';
import { readIperf3, type TestFile } from '../formats/iperf3';
import type { Author } from '../http/author';
import type { StandinWorlds } from '../radio/standinWorlds';
import { makeChange } from './changes';
import { loadLink, predictionOf, type LinkRecord } from './linkRecords';
import { needOf, recordBasis } from './linkStates';
import { viewTest } from './rowViews';

/** One run as it is stored: what is common to its directions, and what each measured. */
interface Run extends Omit<TestFile, 'raw' | 'seconds' | 'conditions'> {
  seconds: number | null;
  conditions: RunConditions | null;
  source: 'iperf3' | 'standin' | 'hand';
  fileName: string | null;
  note: string;
  raw: Record<string, unknown> | null;
  sha256: string | null;
}

/** How a test is known, by where it came from. */
const kindOf: Record<Run['source'], EvidenceKind> = { iperf3: 'measured', standin: 'standin', hand: 'told' };

const wayWords: Record<Direction, string> = { nearToFar: 'near to far', farToNear: 'far to near' };

/** Throughput tests: read, run or noted; each is judged when it is stored. */
export class Tests {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly worlds: StandinWorlds,
  ) {}

  /** @param file what was read in it. @returns a test for each direction of the run */
  async importFile(linkId: string, body: ImportTestBody, file: TestFile, author: Author): Promise<ThroughputTest[]> {
    const record = await loadLink(linkId);
    const sha256 = createHash('sha256').update(body.text).digest('hex');
    return this.store(record, author, { ...file, source: 'iperf3', fileName: body.fileName, note: '', sha256 });
  }

  /** Lets the stand-in radios carry frames for ten seconds. @throws ApiProblem where they are no link */
  async runStandin(linkId: string, direction: Direction, author: Author): Promise<ThroughputTest> {
    const raw = await this.worlds.runThroughput(linkId, direction);
    const file = readIperf3(JSON.stringify(raw), 'near');
    return this.storeOne(await loadLink(linkId), author, {
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
    const mbps = toMbps(body.value, body.unit);
    return this.storeOne(record, author, {
      at: body.at ? new Date(body.at) : new Date(),
      protocol: 'TCP',
      seconds: null,
      conditions: null,
      aborted: false,
      bothLoaded: false,
      measured: [{ direction: body.direction, mbps, retransmits: null, lossShare: null, jitterMs: null }],
      warning,
      source: 'hand',
      fileName: null,
      note: body.note,
      raw: null,
      sha256: null,
    });
  }

  private async storeOne(record: LinkRecord, author: Author, run: Run): Promise<ThroughputTest> {
    const [test] = await this.store(record, author, run);
    return test as ThroughputTest;
  }

  private async store(record: LinkRecord, author: Author, run: Run): Promise<ThroughputTest[]> {
    const linkId = record.link.id;
    const { measured, ...common } = run;
    const judged = await Promise.all(
      measured.map(async (one) => {
        const against = await expectations(record, one.direction, run.source === 'hand');
        const otherMbps = measured.find((other) => other !== one)?.mbps ?? null;
        const verdict = judgeThroughput({
          ...common,
          ...one,
          measuredMbps: one.mbps,
          otherMbps,
          ...against,
          needMbps: needOf(record)[one.direction],
        });
        const { expectation } = against;
        const expectedMbps = run.bothLoaded ? expectation.bothMbps : expectation.aloneMbps;
        return { ...common, ...one, otherMbps, verdict, expectedMbps };
      }),
    );
    const testIds = await makeChange(
      this.sequelize,
      record.job.id,
      author,
      async ({ transaction, crewMemberId, note }) => {
        const made: string[] = [];
        for (const test of judged) {
          const { direction, mbps, verdict, bothLoaded } = test;
          const row = await ThroughputTestRow.create(
            { ...test, linkId, crewMemberId, evidenceKind: kindOf[run.source], basis: recordBasis(record) },
            { transaction },
          );
          made.push(row.id);
          await note({
            linkId,
            kind: 'test',
            summary: `Tested ${wayWords[direction]}: ${mbps.toFixed(1)} Mbit/s, ${verdict.headline}${bothLoaded ? ' (both directions loaded)' : ''}`,
            detail: { testId: row.id },
          });
        }
        return made;
      },
    );
    const rows = await ThroughputTestRow.findAll({ where: { id: testIds } });
    return testIds.map((id) => viewTest(rows.find((row) => row.id === id) as ThroughputTestRow));
  }
}

/** What the plan, half its width, and the level last measured let one expect; and what the feed delivers, where a run may have gone through it: one of iperf3 runs between the ends. */
async function expectations(record: LinkRecord, direction: Direction, isThroughFeed: boolean) {
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
    ceiling: tryPredict(plan).prediction?.[direction].ceiling ?? null,
    halfWidth: expect(halved, direction),
    atMeasuredLevel: shortDb > 3 ? expect(weaker(plan, shortDb), direction) : null,
    // The near end is the one towards the feed.
    feedMbps:
      (isThroughFeed ? (direction === 'nearToFar' ? network?.feedDownMbps : network?.feedUpMbps) : null) ?? null,
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
