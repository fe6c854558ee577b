import type { JobView } from '@kivram/contract/views/job';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useJobMap, useModels } from '../queries';

/** What a job without links needs first, in order, and what of it is done. */
export function FirstThings({ job: { job, network } }: { job: JobView }) {
  const map = useJobMap(job.id);
  const models = useModels();
  const sites = map.data?.places.filter((p) => p.kind === 'site').length ?? 0;
  const noGear = models.data?.length === 0;
  return (
    <section>
      <h2>The first three things to do</h2>
      <ol className="first-things">
        <Thing
          done={sites > 1}
          doing={<Link to={`/jobs/${job.id}/map`}>Put the places on the map</Link>}
          why="where the feed is, and where it has to get to; with terrain the heights and what is in the way come by themselves"
          so={sites > 0 ? `${sites} place${sites > 1 ? 's' : ''} so far` : null}
        />
        <Thing
          done={(network?.subnets.length ?? 0) > 0}
          doing={<Link to={`/jobs/${job.id}/network`}>Say what the network is</Link>}
          why="its subnet, router and who has which address: radios get free ones, and nothing collides"
          so={null}
        />
        <Thing
          done={false}
          doing={
            noGear ? (
              <Link to="/catalogue/new">Put the spec sheet of your radios into the catalogue</Link>
            ) : (
              <Link to={`/jobs/${job.id}/new-link`}>Plan the first link</Link>
            )
          }
          why={
            noGear
              ? 'what its maker prints about it; then plan the first link'
              : 'its path, levels and rates are computed while you type'
          }
          so={null}
        />
      </ol>
    </section>
  );
}

function Thing({ done, doing, why, so }: { done: boolean; doing: ReactNode; why: string; so: string | null }) {
  return (
    <li>
      <strong>{doing}</strong>
      {done && <span className="first-done"> done</span>}
      <br />
      <span className="soft">
        {why}
        {so && `; ${so}`}
      </span>
    </li>
  );
}
