import type { AlignmentSummary, AlignmentView, Tap } from '@kivram/contract/views/alignment';
import type { Reading, Turning } from '@kivram/core/aiming/reading';
import type { End } from '@kivram/core/budget/plan';
import { Op, type Transaction } from 'sequelize';
import { AimMarkRow } from '../database/models/aimMark';
import { AlignmentRow } from '../database/models/alignment';
import { LinkRow } from '../database/models/link';
import { ReadingRow } from '../database/models/reading';
import { notFound } from '../http/apiProblem';

/** Which radio is at which end of an alignment's link. */
export interface RadioEnds {
  near: string;
  far: string;
}

/** @throws ApiProblem when there is no such link */
export async function radiosOf(linkId: string): Promise<RadioEnds> {
  const link = await LinkRow.findByPk(linkId, { attributes: ['nearRadioId', 'farRadioId'] });
  if (!link) throw notFound('link');
  return { near: link.nearRadioId, far: link.farRadioId };
}

export function endOfRadio(radios: RadioEnds, radioId: string): End {
  return radioId === radios.near ? 'near' : 'far';
}

export function summariseAlignment(row: AlignmentRow): AlignmentSummary {
  const { nearSource, farSource, order, ends } = row.plan;
  return {
    id: row.id,
    linkId: row.linkId,
    state: row.state,
    startedAt: row.startedAt.toISOString(),
    finishedAt: row.finishedAt?.toISOString() ?? null,
    crewMemberId: row.crewMemberId,
    nearSource,
    farSource,
    order,
    ends: [...ends],
    levelsFrom: [...row.levelsFrom],
    result: row.result ?? null,
  };
}

/** Readings that are taken out of the database at a time: some hundredths of a second of work. */
const readingsAtOnce = 2000;

/** The readings of an alignment as they are stored, in the order in which they were taken, some thousand at a time; those of one moment lie in one piece. */
export async function* storedReadings(alignmentId: string, transaction?: Transaction): AsyncGenerator<ReadingRow[]> {
  let after: Date | undefined;
  for (;;) {
    const rows: ReadingRow[] = await ReadingRow.findAll({
      where: { alignmentId, ...(after && { at: { [Op.gt]: after } }) },
      order: [
        ['at', 'ASC'],
        ['radioId', 'ASC'],
      ],
      limit: readingsAtOnce,
      raw: true,
      transaction,
    });
    const last = rows.at(-1)?.at.getTime();
    const isWhole = rows.length < readingsAtOnce;
    // The last moment may go on beyond the piece, so it comes with the next one.
    const piece = isWhole ? rows : rows.filter((row) => row.at.getTime() !== last);
    if (piece.length) yield piece;
    if (isWhole) return;
    after = piece.at(-1)?.at;
  }
}

/** The same as the guide reads them, the near end first at one moment. */
export async function* readingPieces(alignmentId: string, radios: RadioEnds): AsyncGenerator<Reading[]> {
  for await (const rows of storedReadings(alignmentId)) {
    const readings = rows.map(
      ({ radioId, tS, rslDbm, chainsDbm, isRepeat, ageS, told, phoneAzimuthDeg, phoneTiltDeg }): Reading => ({
        end: endOfRadio(radios, radioId),
        tS,
        rslDbm,
        chainsDbm,
        ...(isRepeat && { isRepeat }),
        ...(ageS && { ageS }),
        ...(told && { told }),
        phoneAzimuthDeg,
        phoneTiltDeg,
      }),
    );
    yield readings.sort((a, b) => a.tS - b.tS || Number(a.end === 'far') - Number(b.end === 'far'));
  }
}

export async function marksOf(alignmentId: string, radios: RadioEnds): Promise<Tap[]> {
  const rows = await AimMarkRow.findAll({
    where: { alignmentId },
    order: [
      ['tS', 'ASC'],
      ['number', 'ASC'],
    ],
  });
  return rows.map(({ id, radioId, kind, tS, direction }) => {
    const end = endOfRadio(radios, radioId);
    return kind === 'turning' || kind === 'notch'
      ? { id, end, kind, tS, direction: (direction ?? 0) as Turning }
      : { id, end, kind, tS };
  });
}

/** One alignment with all its readings and marks, an `AlignmentView` as JSON: hours of readings are never in memory all at once. */
export async function* alignmentJson(alignmentId: string): AsyncGenerator<string> {
  const row = await AlignmentRow.findByPk(alignmentId);
  if (!row) throw notFound('alignment');
  const radios = await radiosOf(row.linkId);
  const marks = await marksOf(row.id, radios);
  const head: Omit<AlignmentView, 'samples'> = {
    ...summariseAlignment(row),
    expectedDbm: row.plan.expectedDbm,
    marks,
  };
  yield `${JSON.stringify(head).slice(0, -1)},"samples":[`;
  let first = true;
  for await (const readings of readingPieces(row.id, radios)) {
    yield `${first ? '' : ','}${JSON.stringify(readings).slice(1, -1)}`;
    first = false;
  }
  yield ']}';
}
