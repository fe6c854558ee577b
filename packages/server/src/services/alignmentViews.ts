import type { AlignmentSummary } from '@kivram/contract';
import type { AimMark, Reading, Turning } from '@kivram/core';
import { AimMarkRow, ReadingRow, type AlignmentRow } from '../database/models';

export async function summariseAlignment(row: AlignmentRow): Promise<AlignmentSummary> {
  return {
    id: row.id,
    linkId: row.linkId,
    state: row.state,
    startedAt: row.startedAt.toISOString(),
    finishedAt: row.finishedAt?.toISOString() ?? null,
    crewMemberId: row.crewMemberId,
    nearSource: row.plan.nearSource,
    farSource: row.plan.farSource,
    order: row.plan.order,
    readings: await ReadingRow.count({ where: { alignmentId: row.id } }),
    result: row.result ?? null,
  };
}

export async function readingsOf(alignmentId: string): Promise<Reading[]> {
  const rows = await ReadingRow.findAll({
    where: { alignmentId },
    order: [
      ['at', 'ASC'],
      ['linkEnd', 'DESC'],
    ],
    raw: true,
  });
  return rows.map(({ linkEnd, tS, rslDbm, chainsDbm, phoneAzimuthDeg, phoneTiltDeg }) => ({
    end: linkEnd,
    tS,
    rslDbm,
    chainsDbm,
    phoneAzimuthDeg,
    phoneTiltDeg,
  }));
}

export async function marksOf(alignmentId: string): Promise<AimMark[]> {
  const rows = await AimMarkRow.findAll({ where: { alignmentId }, order: [['sequence', 'ASC']] });
  return rows.map(({ kind, tS, direction }) =>
    kind === 'turning' || kind === 'notch' ? { kind, tS, direction: (direction ?? 0) as Turning } : { kind, tS },
  );
}
