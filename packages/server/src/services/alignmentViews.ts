import type { AlignmentSummary, Tap } from '@kivram/contract';
import type { End, Reading, Turning } from '@kivram/core';
import { AimMarkRow, ReadingRow, type AlignmentRow } from '../database/models';

/** Which radio is at which end of an alignment's link. */
export interface RadioEnds {
  near: string;
  far: string;
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
    result: row.result ?? null,
  };
}

/** The readings of an alignment in the order in which they were taken, the near end first at one moment. */
export async function readingsOf(alignmentId: string, radios: RadioEnds): Promise<Reading[]> {
  const rows = await ReadingRow.findAll({ where: { alignmentId }, order: [['at', 'ASC']], raw: true });
  const readings = rows.map(({ radioId, tS, rslDbm, chainsDbm, phoneAzimuthDeg, phoneTiltDeg }): Reading => ({
    end: endOfRadio(radios, radioId),
    tS,
    rslDbm,
    chainsDbm,
    phoneAzimuthDeg,
    phoneTiltDeg,
  }));
  return readings.sort((a, b) => a.tS - b.tS || Number(a.end === 'far') - Number(b.end === 'far'));
}

export async function marksOf(alignmentId: string): Promise<Tap[]> {
  const rows = await AimMarkRow.findAll({
    where: { alignmentId },
    order: [
      ['tS', 'ASC'],
      ['number', 'ASC'],
    ],
  });
  return rows.map(({ id, kind, tS, direction }) =>
    kind === 'turning' || kind === 'notch'
      ? { id, kind, tS, direction: (direction ?? 0) as Turning }
      : { id, kind, tS },
  );
}
