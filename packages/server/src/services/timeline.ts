import type { TimelineView } from '@kivram/contract/views/job';
import { CrewMemberRow } from '../database/models/crewMember';
import type { EventRow } from '../database/models/event';
import { viewMember } from './people';

/** Events with the names of those who did them. */
export async function viewEvents(rows: EventRow[], jobId: string): Promise<TimelineView> {
  const crew = await CrewMemberRow.findAll({ where: { jobId } });
  return {
    events: rows.map(({ id, linkId, at, crewMemberId, kind, summary, detail }) => ({
      id: Number(id),
      linkId,
      at: at.toISOString(),
      crewMemberId,
      kind,
      summary,
      detail,
    })),
    crew: crew.map(viewMember),
  };
}
