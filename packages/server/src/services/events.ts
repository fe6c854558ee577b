import type { EventKind } from '@kivram/contract';
import type { Transaction } from 'sequelize';
import { EventRow } from '../database/models';

export interface Happening {
  jobId: string;
  linkId?: string | null;
  crewMemberId: string | null;
  kind: EventKind;
  summary: string;
  detail?: Record<string, unknown>;
}

/** Writes one line into the timeline, in the transaction of what it tells of. */
export async function noteEvent(event: Happening, transaction: Transaction): Promise<void> {
  await EventRow.create({ linkId: null, detail: {}, ...event, summary: event.summary.slice(0, 400) }, { transaction });
}
