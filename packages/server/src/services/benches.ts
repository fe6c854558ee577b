import type { BenchRunView } from '@kivram/contract/views/link';
import { runBench, type BenchRadio } from '@kivram/standin/radio/bench';
import type { Sequelize } from 'sequelize';
import { BenchRunRow } from '../database/models/benchRun';
import type { Author } from '../http/author';
import { ApiProblem } from '../http/apiProblem';
import { makeChange } from './changes';
import { loadLink, type LinkRecord } from './linkRecords';
import { recordBasis } from './linkStates';

/** Pairing on the table: tried by stand-in radios, or told of the real ones. */
export class Benches {
  constructor(private readonly sequelize: Sequelize) {}

  /** Lets two stand-in radios with the saved sheets find each other. */
  async tryStandin(linkId: string, author: Author): Promise<BenchRunView> {
    const record = await loadLink(linkId);
    const run = pairOnBench(record);
    const summary = run.linked
      ? 'Stand-in radios paired on the bench'
      : `Stand-in radios did not pair on the bench: ${run.events.at(-1)?.what ?? 'nothing was heard'}`;
    await this.keep(record, author, run.linked, 'standin', summary, { events: run.events });
    return run;
  }

  /** Notes what the real radios did. */
  async tell(linkId: string, linked: boolean, author: Author): Promise<void> {
    const record = await loadLink(linkId);
    if (!record.near.sheet || !record.far.sheet) throw noSheets();
    const summary = linked ? 'The radios paired on the bench' : 'The radios did not pair on the bench';
    await this.keep(record, author, linked, 'told', summary, {});
  }

  private async keep(
    record: LinkRecord,
    author: Author,
    linked: boolean,
    evidenceKind: 'standin' | 'told',
    summary: string,
    detail: Record<string, unknown>,
  ): Promise<void> {
    const linkId = record.link.id;
    await makeChange(this.sequelize, record.job.id, author, async ({ transaction, crewMemberId, note }) => {
      const run = await BenchRunRow.create(
        { linkId, crewMemberId, linked, evidenceKind, basis: recordBasis(record) },
        { transaction },
      );
      await note({ linkId, kind: 'bench', summary, detail: { ...detail, benchRunId: run.id } });
      return null;
    });
  }
}

const noSheets = (): ApiProblem =>
  new ApiProblem(409, 'No settings', 'Save the settings of both ends first; there is nothing to try yet.');

/** What two stand-in radios with the sheets of a link do. @throws ApiProblem where a sheet is missing */
export function pairOnBench({ near, far, laws }: LinkRecord): ReturnType<typeof runBench> {
  const radio = ({ sheet, model, place, radio: { mac }, otherStations }: LinkRecord['near']): BenchRadio => {
    if (!sheet) throw noSheets();
    return { label: place.name, model, sheet: sheet.sheet, mac, otherStations };
  };
  return runBench(radio(near), radio(far), laws);
}
