import type { JobLinks, JobView, LinkSummary, NextMatter, Urgent } from '@kivram/contract';
import { evidenceText, maskText, worstState, withMinus, type State } from '@kivram/core';
import { Button, Pagination, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { Figure, Length } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { Rate } from '../parts/Rate';
import { StateMark, StateShape, stateWord } from '../parts/StateMark';
import { useKeys } from '../parts/useKeys';
import { linksShown, useJob, useJobLinks } from '../queries';
import './job.css';

/** A job opens on what is wrong and what is next, then shows its links and its network. */
export function JobScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const [page, setPage] = useState(1);
  const [find, setFind] = useState('');
  const [wanted] = useDebouncedValue(find, 200);
  const list = useJobLinks(jobId, (page - 1) * linksShown, wanted);
  const navigate = useNavigate();
  useKeys({
    n: () => void navigate(`/jobs/${jobId}/new-link`),
    m: () => void navigate(`/jobs/${jobId}/map`),
  });
  const error = (!job.data && job.error) || (!list.data && list.error);
  if (error) return <Problem error={error} />;
  if (!job.data || !list.data) return <p className="soft">Reading the job</p>;
  const { links, total, all, wrong, next } = list.data;
  return (
    <>
      <div className="row" style={{ margin: '4px 0 16px' }}>
        <h1>{job.data.job.name}</h1>
        <span className="soft">{job.data.job.customer}</span>
      </div>
      <div className="columns">
        <Wrong wrong={wrong} />
        <Next next={next} jobId={jobId} empty={!all} />
      </div>
      <section style={{ marginTop: 28 }}>
        <h2 className="row">
          Links
          <span style={{ flex: 1 }} />
          {(total > linksShown || find) && (
            <TextInput
              aria-label="Find a link by its name or its places"
              placeholder="find a link"
              value={find}
              onChange={(event) => {
                setFind(event.currentTarget.value);
                setPage(1);
              }}
              w={200}
            />
          )}
          <Button component={Link} to={`/jobs/${jobId}/map`} size="sm" variant="default">
            Map
          </Button>
          <Button component={Link} to={`/jobs/${jobId}/new-link`} size="sm">
            Plan a new link
          </Button>
        </h2>
        <ul className="plain">
          {links.map((link) => (
            <LinkLine key={link.id} link={link} />
          ))}
        </ul>
        {total > linksShown && (
          <Pagination
            total={Math.ceil(total / linksShown)}
            value={page}
            onChange={setPage}
            mt="md"
            getControlProps={(control) => ({ 'aria-label': `${control} page` })}
          />
        )}
      </section>
      <Traffic list={list.data} />
      <Network job={job.data} />
      <section style={{ marginTop: 28 }}>
        <h2>Take the job along</h2>
        <div className="row">
          <Button component="a" href={`/api/jobs/${jobId}/export`} download variant="default">
            Export the job
          </Button>
          <Button component="a" href={`/api/jobs/${jobId}/export?secrets=include`} download variant="default">
            Export with passphrases
          </Button>
          <span className="note">
            One JSON file, described in docs/job-document.md; it imports back to the same job.
          </span>
        </div>
      </section>
    </>
  );
}

function Wrong({ wrong }: { wrong: Urgent }) {
  return (
    <section>
      <h2>What is wrong</h2>
      {!wrong.count && <p>Nothing known.</p>}
      <ul className="plain">
        {wrong.first.map(({ linkId, name, step, state, because }) => (
          <li key={`${linkId} ${step}`} className="job-item">
            <Link to={`/links/${linkId}/${step}`}>
              {name}, {step}
            </Link>
            <StateMark state={state} because={because} />
          </li>
        ))}
      </ul>
      <More of={wrong} />
    </section>
  );
}

function Next({ next, jobId, empty }: { next: Urgent<NextMatter>; jobId: string; empty: boolean }) {
  return (
    <section>
      <h2>What is next</h2>
      {empty ? (
        <p>
          No link is planned yet: put the places on the <Link to={`/jobs/${jobId}/map`}>map</Link>, then{' '}
          <Link to={`/jobs/${jobId}/new-link`}>plan the first link</Link>.
        </p>
      ) : (
        !next.count && <p>Every link is proven and on record.</p>
      )}
      <ul className="plain">
        {next.first.map(({ linkId, name, step, task, why, where }) => (
          <li key={linkId} className="job-item">
            <Link to={`/links/${linkId}/${step}`}>
              {name}: {task}
            </Link>
            <span>
              {where && (
                <strong className={where.end}>
                  {where.end} end, {where.place}
                </strong>
              )}
              {where && ': '}
              <span className="soft">{withMinus(why)}</span>
            </span>
          </li>
        ))}
      </ul>
      <More of={next} />
    </section>
  );
}

function More({ of: { count, first } }: { of: { count: number; first: readonly unknown[] } }) {
  const more = count - first.length;
  return more > 0 ? <p className="note">and {more} more</p> : null;
}

/** Which way the traffic of each place goes from the feed, what comes through, and what limits it. */
function Traffic({ list: { traffic, loops } }: { list: JobLinks }) {
  if (!traffic.length && !loops.length) return null;
  return (
    <section style={{ marginTop: 28 }}>
      <h2>Where the traffic goes</h2>
      {loops.map((loop) => (
        <p key={loop} className="caution">
          {loop}
        </p>
      ))}
      <div className="scroll" tabIndex={0} role="region" aria-label="Where the traffic goes, as a table">
        <table className="ruled">
          <thead>
            <tr>
              <th>Place</th>
              <th>From the feed</th>
              <th className="right">To the place</th>
              <th className="right">Back</th>
              <th>Limited by</th>
            </tr>
          </thead>
          <tbody>
            {traffic.map(({ placeId, place, way, toPlaceMbps, toFeedMbps, limit }) => (
              <tr key={placeId}>
                <td>{place}</td>
                <td className="note">{way.join(', ')}</td>
                <td className="right">
                  <Rate mbps={toPlaceMbps} />
                </td>
                <td className="right">
                  <Rate mbps={toFeedMbps} />
                </td>
                <td>{limit}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="note">TCP as planned, one direction at a time, with nothing else on the way.</p>
    </section>
  );
}

function LinkLine({ link }: { link: LinkSummary }) {
  const state = worstState(link.state.steps);
  return (
    <li className="job-link">
      <span className="job-name">{link.name}</span>
      <span className="job-near near">{link.nearPlace}</span>
      <Link
        to={`/links/${link.id}/${link.state.next?.step ?? 'record'}`}
        className="job-wire"
        aria-label={`${link.name}, ${stateWord(state)}`}
      >
        {link.state.steps.map((s) => (
          <span
            key={s.step}
            className="job-bead"
            title={[`${s.step}: ${stateWord(s.state)}, ${s.because}`, evidenceText(s)].filter(Boolean).join('; ')}
          >
            <StateShape state={s.state} />
          </span>
        ))}
      </Link>
      <span className="job-far far">{link.farPlace}</span>
      <Length metres={link.distanceM} />
      <StateMark state={state} because={because(link, state)} />
    </li>
  );
}

/** What the state of a whole link rests on: the next thing to do, or the step that is thin. */
function because({ state: { next, steps: list } }: LinkSummary, state: State): string {
  const step = next ?? list.find((s) => s.state === state && s.step !== 'record');
  return state === 'holds' || !step ? 'proven' : `${step.step}: ${step.because}`;
}

function Network({ job: { network, devices } }: { job: JobView }) {
  return (
    <section style={{ marginTop: 28 }}>
      <h2>Network of the site</h2>
      {network ? (
        <div className="row job-network">
          <span className="figure">
            {network.subnetAddress}/{network.prefix}
          </span>
          <span className="soft">mask</span> <span className="figure">{maskText(network.prefix)}</span>
          <span className="soft">gateway</span> <span className="figure">{network.gateway ?? 'none'}</span>
          <span className="soft">DHCP</span>
          <span className="figure">
            {network.dhcpFirst ? `${network.dhcpFirst} to ${network.dhcpLast ?? ''}` : 'none'}
          </span>
          <span className="soft">feed</span> <Figure value={network.feedMbps} unit="Mbit/s" digits={0} />
          <span className="soft">known devices</span>{' '}
          <span>{devices.map((d) => `${d.name} ${d.address}`).join(', ')}</span>
        </div>
      ) : (
        <p>No network yet; addresses cannot be proposed.</p>
      )}
    </section>
  );
}
