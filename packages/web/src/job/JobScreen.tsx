import type { JobLinks, JobView, LinkSummary, NextMatter, Urgent } from '@kivram/contract/views/job';
import { maskText } from '@kivram/core/addressing/subnet';
import { rangesText } from '@kivram/core/addressing/typed';
import { withMinus } from '@kivram/core/units/number';
import { evidenceText, worstState } from '@kivram/core/verdict/steps';
import type { State } from '@kivram/core/verdict/verdict';
import { Button, Pagination, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { Figure, Length } from '../parts/Figure';
import { NotShown } from '../parts/NotShown';
import { Rate } from '../parts/Rate';
import { StateMark, StateShape, stateWord } from '../parts/StateMark';
import { useKeys } from '../parts/useKeys';
import { linksShown, useJob, useJobLinks, useMay } from '../queries';
import { FirstThings } from './FirstThings';
import { JobTabs } from './JobTabs';
import './job.css';
import { Working } from '../parts/Only';

/** A job opens on what is wrong and what is next, then shows its links and its network. */
export function JobScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const [page, setPage] = useState(1);
  const [find, setFind] = useState('');
  const [wanted] = useDebouncedValue(find, 200);
  const list = useJobLinks(jobId, (page - 1) * linksShown, wanted);
  const navigate = useNavigate();
  const may = useMay(jobId);
  useKeys({
    n: () => !may.onlyReads && void navigate(`/jobs/${jobId}/new-link`),
    m: () => void navigate(`/jobs/${jobId}/map`),
  });
  const error = (!job.data && job.error) || (!list.data && list.error);
  if (error) return <NotShown error={error} />;
  if (!job.data || !list.data) return <p className="soft">Reading the job</p>;
  const { links, total, all, wrong, next } = list.data;
  return (
    <>
      <JobTabs jobId={jobId} name={job.data.job.name} customer={job.data.job.customer} />
      {all ? (
        <div className="columns">
          <Wrong wrong={wrong} />
          <Next next={next} />
        </div>
      ) : (
        <Working jobId={jobId}>
          <FirstThings job={job.data} />
        </Working>
      )}
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
          <Working jobId={jobId}>
            <Button component={Link} to={`/jobs/${jobId}/new-link`} size="sm">
              Plan a new link
            </Button>
          </Working>
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

function Next({ next }: { next: Urgent<NextMatter> }) {
  return (
    <section>
      <h2>What is next</h2>
      {!next.count && <p>Every link is proven and on record.</p>}
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
                  <Rate mbps={toPlaceMbps} beside={[toFeedMbps]} />
                </td>
                <td className="right">
                  <Rate mbps={toFeedMbps} beside={[toPlaceMbps]} />
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

/** Devices that the first screen names; the network's own screen has them all. */
const devicesNamed = 8;

function Network({ job: { job, network, devices } }: { job: JobView }) {
  return (
    <section style={{ marginTop: 28 }}>
      <h2 className="row">
        Network of the site
        <span style={{ flex: 1 }} />
        <Working jobId={job.id}>
          <Button component={Link} to={`/jobs/${job.id}/network`} size="sm" variant="default">
            {network ? 'Change the network' : 'Say what the network is'}
          </Button>
        </Working>
      </h2>
      {network?.subnets.map(({ name, address, prefix, gateway, dhcp }) => (
        <div className="row job-network" key={name}>
          <strong>{name}</strong>
          <span className="figure">
            {address}/{prefix}
          </span>
          <span className="soft">mask</span> <span className="figure">{maskText(prefix)}</span>
          <span className="soft">router</span> <span className="figure">{gateway ?? 'none'}</span>
          <span className="soft">DHCP</span>
          <span className="figure">{rangesText(dhcp) || 'none'}</span>
        </div>
      ))}
      {network ? (
        <div className="row job-network">
          <span className="soft">from the feed</span> <Figure value={network.feedDownMbps} unit="Mbit/s" digits={0} />
          <span className="soft">to the feed</span> <Figure value={network.feedUpMbps} unit="Mbit/s" digits={0} />
          <span className="soft">known devices</span>{' '}
          <span>
            {devices
              .slice(0, devicesNamed)
              .map((d) => `${d.name} ${d.address}`)
              .join(', ') || 'none'}
            {devices.length > devicesNamed && ` and ${devices.length - devicesNamed} more`}
          </span>
        </div>
      ) : (
        <p>No network yet; addresses cannot be proposed.</p>
      )}
    </section>
  );
}
