import type { Event } from '@kivram/contract/entities/event';
import { routes } from '@kivram/contract/routes';
import { momentText } from '@kivram/core/units/moment';
import { withMinus } from '@kivram/core/units/number';
import { Button } from '@mantine/core';
import { Link, useParams } from 'react-router';
import { NotShown } from '../parts/NotShown';
import { Problem } from '../parts/Problem';
import { useChange, useJob, useJobMap, useJobTimeline } from '../queries';
import { JobTabs } from './JobTabs';
import { Working } from '../parts/Only';

/** Who did what when in a job, newest first; what was removed can be brought back here. */
export function TimelineScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const map = useJobMap(jobId);
  const timeline = useJobTimeline(jobId);
  if (!job.data || !timeline.data)
    return job.error ? <NotShown error={job.error} /> : <p className="soft">Reading the timeline</p>;
  const { events, crew } = timeline.data;
  const who = new Map(crew.map(({ id, name }) => [id, name]));
  const links = new Map(map.data?.links.map(({ id, name }) => [id, name]));
  const undone = new Set(events.map((event) => event.detail.undoneRemovalId));
  return (
    <>
      <JobTabs jobId={jobId} name={job.data.job.name} customer={job.data.job.customer} />
      <Problem error={timeline.error} />
      <ol className="plain">
        {events.map((event) => (
          <Line
            key={event.id}
            event={event}
            jobId={jobId}
            who={who.get(event.crewMemberId ?? '') ?? 'Kivram'}
            link={links.get(event.linkId ?? '')}
            back={undone.has(event.detail.removalId)}
          />
        ))}
      </ol>
    </>
  );
}

interface LineProps {
  event: Event;
  jobId: string;
  who: string;
  /** the name of the link that it is about, where there is one */
  link: string | undefined;
  /** what it took is back */
  back: boolean;
}

function Line({ event: { at, linkId, summary, detail }, jobId, who, link, back }: LineProps) {
  const removalId = typeof detail.removalId === 'string' ? detail.removalId : null;
  return (
    <li className="timeline-line">
      <span className="note">
        <span className="figure">{momentText(at)}</span>, {who}
      </span>
      <span>
        {link && <Link to={`/links/${linkId ?? ''}/record`}>{link}</Link>}
        {link && ': '}
        {withMinus(summary)}
        {removalId && back && <span className="note"> (brought back since)</span>}
      </span>
      {removalId && !back && (
        <Working jobId={jobId}>
          <Undo removalId={removalId} />
        </Working>
      )}
    </li>
  );
}

function Undo({ removalId }: { removalId: string }) {
  const undo = useChange(routes.undoRemoval, { removalId });
  return (
    <>
      <Button size="sm" variant="default" loading={undo.isPending} onClick={() => undo.mutate(undefined)}>
        Bring it back
      </Button>
      <Problem error={undo.error} />
    </>
  );
}
