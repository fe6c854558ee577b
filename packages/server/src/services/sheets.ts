import type { SaveSheetsBody } from '@kivram/contract/sheet';
import type { LinkEnd, Revealed, RevealedView } from '@kivram/contract/views/link';
import type { AddressPlan } from '@kivram/core/addressing/proposal';
import { AddressError } from '@kivram/core/addressing/subnet';
import { ends, type End } from '@kivram/core/budget/plan';
import { hidePassphrase, readHidden } from '@kivram/core/pairing/hiddenPassphrase';
import { proposeSheets, type SheetWish } from '@kivram/core/pairing/proposal';
import type { Sheet } from '@kivram/core/pairing/sheet';
import { randomBytes } from 'node:crypto';
import { Op, type Sequelize } from 'sequelize';
import { RadioRow } from '../database/models/radio';
import { RadioLoginRow } from '../database/models/radioLogin';
import { SheetRow } from '../database/models/sheet';
import { anew, type Author } from '../http/author';
import { vault } from '../secrets/vault';
import { ApiProblem, changedMeanwhile } from '../http/apiProblem';
import { makeChange } from './changes';
import { networkOf } from './networks';
import { latestSheets, loadLink, loadWithSharers, type LinkRecord } from './linkRecords';
import { viewSheet } from './rowViews';

/** Settings sheets: proposed, edited by the installer, saved as revisions. */
export class Sheets {
  constructor(private readonly sequelize: Sequelize) {}

  async propose(linkId: string): Promise<{ near: Sheet; far: Sheet }> {
    const { record, onAir } = await loadWithSharers(linkId);
    const { job, air, near, far } = record;
    const known = [near, far].flatMap(({ sheet }) => sheet?.sheet.passphrase ?? []);
    const others = await sheetsOfOthers(record);
    const wish = (end: End): SheetWish => {
      const { place, model, radio, sheet, otherStations } = record[end];
      return {
        place: place.name,
        model,
        role: radio.role,
        conductedDbm: radio.conductedDbm,
        neighbours: neighboursOf(radio.id, onAir),
        serving: otherStations > 0 ? (sheet?.sheet ?? null) : null,
      };
    };
    try {
      const proposal = proposeSheets(
        {
          jobName: job.name,
          air,
          near: wish('near'),
          far: wish('far'),
          country: job.country,
          network: await addressPlan(job.id, others),
          firmware: near.sheet?.sheet.firmware ?? far.sheet?.sheet.firmware ?? '',
          takenNetworkNames: others.map((s) => s.networkName),
        },
        (count) => randomBytes(count),
      );
      // What a radio serves others with is a secret already; a new one is shown until it is saved.
      const shown = (sheet: Sheet): Sheet => (known.includes(sheet.passphrase ?? '') ? hidden(sheet) : sheet);
      return { near: shown(proposal.near), far: shown(proposal.far) };
    } catch (error) {
      if (error instanceof AddressError) throw new ApiProblem(422, 'No address free', error.message);
      throw error;
    }
  }

  /** Passphrases and passwords as they are saved; that somebody looked at them stands on the timeline before they are told, each time. */
  async reveal(linkId: string, author: Author): Promise<RevealedView> {
    const { job, near, far } = await loadLink(linkId);
    await makeChange(this.sequelize, job.id, anew(author), async ({ note }) => {
      await note({ linkId, kind: 'settings', summary: 'Looked at passphrases and passwords of both ends' });
      return null;
    });
    const logins = await RadioLoginRow.findAll({ where: { radioId: [near.radio.id, far.radio.id] } });
    const of = ({ radio, sheet }: LinkEnd): Revealed => ({
      passphrase: sheet?.sheet.passphrase ?? null,
      password: logins.find((login) => login.radioId === radio.id)?.password ?? null,
    });
    return { near: of(near), far: of(far) };
  }

  /** Saves both sheets as new revisions, where they changed and where nobody saved in between. */
  async save(linkId: string, body: SaveSheetsBody, author: Author): Promise<void> {
    const record = await loadLink(linkId);
    const sheets = { near: writtenOut(body.near, record), far: writtenOut(body.far, record) };
    await makeChange(this.sequelize, record.job.id, author, async ({ transaction, crewMemberId, note }) => {
      const changes: Record<string, SheetChange[]> = {};
      for (const end of ends) {
        const view = record[end];
        await RadioRow.findByPk(view.radio.id, { transaction, lock: true });
        const last = await SheetRow.findOne({
          where: { radioId: view.radio.id },
          order: [['revision', 'DESC']],
          transaction,
        });
        const known = end === 'near' ? body.nearRevision : body.farRevision;
        if ((last?.revision ?? 0) !== known) throw changedMeanwhile(`${end} end's settings`);
        changes[end] = differences(view, sheets[end]);
        if (last && !changes[end].length) continue;
        await SheetRow.create(
          { ...sheets[end], radioId: view.radio.id, revision: known + 1, crewMemberId },
          { transaction },
        );
      }
      const count = ends.reduce((sum, end) => sum + (changes[end]?.length ?? 0), 0);
      if (!count) return null;
      const first = !record.near.sheet && !record.far.sheet;
      await note({
        linkId,
        kind: 'settings',
        summary: first ? 'First settings of both ends' : `Changed ${count} setting${count > 1 ? 's' : ''}`,
        detail: { changes },
      });
      return null;
    });
  }
}

/** A sheet with something else in place of its passphrase. */
export function hidden(sheet: Sheet): Sheet {
  const { passphrase, networkName } = sheet;
  return passphrase
    ? { ...sheet, passphrase: hidePassphrase(passphrase, networkName, (text) => vault().digest(text)) }
    : sheet;
}

/** A sheet with the passphrase that what stands for it means: that of either end. @throws ApiProblem where it means none of them */
function writtenOut<Of extends Sheet>(sheet: Of, { near, far }: LinkRecord): Of {
  const meant = readHidden(sheet.passphrase);
  if (!meant) return sheet;
  const known = [near, far].flatMap((end) => end.sheet?.sheet.passphrase ?? []);
  const passphrase = known.find((text) => vault().digest(text) === meant.digest);
  if (!passphrase) throw changedMeanwhile('passphrase');
  return { ...sheet, passphrase };
}

/** Hardware addresses of the radios that a radio has links with, as far as they are known. */
function neighboursOf(radioId: string, onAir: readonly LinkRecord[]): string[] {
  return onAir.flatMap(({ near, far }) => {
    const peer = near.radio.id === radioId ? far : far.radio.id === radioId ? near : undefined;
    return peer?.radio.mac ? [peer.radio.mac] : [];
  });
}

async function addressPlan(jobId: string, others: readonly Sheet[]): Promise<AddressPlan> {
  const { network, devices } = await networkOf(jobId);
  const [subnet, ...more] = network?.subnets ?? [];
  if (!subnet) throw new ApiProblem(422, 'No network', 'The job has no network yet: say which subnet the site uses.');
  const routers = more.flatMap(({ gateway }) => gateway ?? []);
  return { subnet, taken: [...devices.map((d) => d.address), ...others.map((s) => s.address), ...routers] };
}

/** The latest sheets of the job's other radios: their addresses and names are taken. */
async function sheetsOfOthers({ job, near, far }: LinkRecord): Promise<Sheet[]> {
  const radios = await RadioRow.findAll({
    where: { jobId: job.id, id: { [Op.notIn]: [near.radio.id, far.radio.id] } },
    attributes: ['id'],
  });
  return (await latestSheets(radios.map((r) => r.id))).map(viewSheet);
}

interface SheetChange {
  field: keyof Sheet;
  before: unknown;
  after: unknown;
}

/** What a save changes at one end; a passphrase's values are not written down. */
function differences(view: LinkEnd, after: Sheet): SheetChange[] {
  const before = view.sheet?.sheet;
  return (Object.keys(after) as (keyof Sheet)[])
    .filter((field) => JSON.stringify(before?.[field] ?? null) !== JSON.stringify(after[field] ?? null))
    .map((field) =>
      field === 'passphrase'
        ? { field, before: before?.passphrase ? 'set' : null, after: after.passphrase ? 'changed' : null }
        : { field, before: before?.[field] ?? null, after: after[field] },
    );
}
