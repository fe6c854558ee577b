import {
  expectTcp,
  fastestStep,
  judgeThroughput,
  predictLink,
  toMbps,
  unitConfusion,
  type DirectionExpectation,
  type LinkPlan,
} from '@kivram/core';
import type { Direction, HandTestBody, ImportTestBody, ThroughputTest } from '@kivram/contract';
import { runThroughput } from '@kivram/standin';
import { createHash } from 'node:crypto';
import type { Sequelize } from 'sequelize';
import { NetworkRow, ThroughputTestRow } from '../database/models';
import { readIperf3, type TestFile } from '../formats/iperf3';
import { ApiProblem } from '../http/problem';
import type { StandinWorlds } from '../radio/standinWorlds';
import { noteEvent } from './events';
import { latestAlignment, loadLink, planOf, tryPredict, viewTest, type LoadedLink } from './links';

type Measured = Omit<TestFile, 'raw' | 'seconds'> & {
  seconds: number | null;
  source: 'iperf3' | 'standin' | 'hand';
  fileName: string | null;
  note: string;
  raw: Record<string, unknown> | null;
  sha256: string | null;
};

/** Throughput tests: read, run or noted; each is judged when it is stored. */
export class Tests {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly worlds: StandinWorlds,
  ) {}

  async importFile(linkId: string, body: ImportTestBody): Promise<ThroughputTest> {
    const loaded = await loadLink(linkId);
    const file = readIperf3(body.text, body.clientAt);
    const sha256 = createHash('sha256').update(body.text).digest('hex');
    return this.store(loaded, body.crewMemberId, {
      ...file,
      source: 'iperf3',
      fileName: body.fileName,
      note: '',
      sha256,
    });
  }

  async runStandin(linkId: string, direction: Direction, crewMemberId: string): Promise<ThroughputTest> {
    const loaded = await loadLink(linkId);
    const { meanDbm, setup } = await this.worlds.conditions(linkId);
    const far = loaded.far.model;
    const step = {
      near: fastestStep(loaded.near.model, loaded.row.widthMHz, meanDbm.near),
      far: fastestStep(far, loaded.row.widthMHz, meanDbm.far),
    };
    const [receiving, other] = direction === 'nearToFar' ? [step.far, step.near] : [step.near, step.far];
    if (!receiving || !other) {
      throw new ApiProblem(
        422,
        'No link',
        'The stand-in radios do not hear each other well enough to pass data. Aim first.',
      );
    }
    const link = expectTcp({
      phy: loaded.near.model.phy,
      protocol: loaded.row.protocol,
      phyRateMbps: receiving.phyRateMbps,
      reversePhyRateMbps: other.phyRateMbps,
      ethernetMbps: Math.min(loaded.near.model.ethernetMbps, far.ethernetMbps, setup.ethernetMbps ?? Infinity),
    });
    const raw = runThroughput({
      capacityMbps: link.aloneMbps,
      feedMbps: setup.feedMbps,
      lossShare: setup.lossShare,
      reverse: direction === 'farToNear',
      seconds: 10,
      startedAtS: Math.floor(Date.now() / 1000),
      seed: setup.seed + Math.floor(Date.now() / 1000),
    });
    const file = readIperf3(JSON.stringify(raw), 'near');
    return this.store(loaded, crewMemberId, { ...file, source: 'standin', fileName: null, note: '', sha256: null });
  }

  async noteByHand(linkId: string, body: HandTestBody): Promise<ThroughputTest> {
    const loaded = await loadLink(linkId);
    const { prediction } = tryPredict(loaded);
    const warning = prediction
      ? (unitConfusion(body.value, body.unit, prediction[body.direction].aloneMbps) ?? null)
      : null;
    return this.store(loaded, body.crewMemberId, {
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

  private async store(loaded: LoadedLink, crewMemberId: string, measured: Measured): Promise<ThroughputTest> {
    const verdict = judgeThroughput({
      measuredMbps: measured.mbps,
      aborted: measured.aborted,
      bothLoaded: measured.bothLoaded,
      ...(await this.expectations(loaded, measured.direction)),
      needMbps: measured.direction === 'nearToFar' ? loaded.row.needNearToFarMbps : loaded.row.needFarToNearMbps,
    });
    const { bothLoaded, ...columns } = measured;
    const row = await this.sequelize.transaction(async (transaction) => {
      const made = await ThroughputTestRow.create(
        { ...columns, linkId: loaded.row.id, crewMemberId, verdict },
        { transaction },
      );
      const way = measured.direction === 'nearToFar' ? 'near to far' : 'far to near';
      await noteEvent(
        {
          jobId: loaded.row.jobId,
          linkId: loaded.row.id,
          crewMemberId,
          kind: 'test',
          summary: `Tested ${way}: ${measured.mbps.toFixed(1)} Mbit/s. ${verdict.headline}${bothLoaded ? ' (both directions loaded)' : ''}`,
          detail: { testId: made.id },
        },
        transaction,
      );
      return made;
    });
    return viewTest(row);
  }

  /** What the plan, half its width, and the level last measured let one expect; and what the feed delivers. */
  private async expectations(loaded: LoadedLink, direction: Direction) {
    const plan = planOf(loaded);
    const expectation = expect(plan, direction);
    const alignment = await latestAlignment(loaded.row.id, 'finished');
    const shortDb = Math.max(alignment?.result?.near.shortDb ?? 0, alignment?.result?.far.shortDb ?? 0);
    const network = await NetworkRow.findOne({ where: { jobId: loaded.row.jobId } });
    return {
      expectation,
      halfWidth: expect({ ...plan, widthMHz: plan.widthMHz / 2 }, direction),
      atMeasuredLevel: shortDb > 3 ? expect(weaker(plan, shortDb), direction) : null,
      feedMbps: network?.feedMbps ?? null,
    };
  }
}

const nothing: DirectionExpectation = { lines: [], aloneMbps: 0, bothMbps: 0, limitedBy: 'nolink' };

function expect(plan: LinkPlan, direction: Direction): DirectionExpectation {
  try {
    return predictLink(plan)[direction];
  } catch (error) {
    if (error instanceof RangeError) return nothing;
    throw error;
  }
}

/** The plan with so much more loss in the path. */
function weaker(plan: LinkPlan, lossDb: number): LinkPlan {
  return { ...plan, near: { ...plan.near, cableLossDb: plan.near.cableLossDb + lossDb } };
}
