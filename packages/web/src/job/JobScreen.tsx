import type { JobView, LinkSummary } from '@kivram/contract';
import { maskText, steps, worstState, type State } from '@kivram/core';
import { Button } from '@mantine/core';
import { Link, useNavigate, useParams } from 'react-router';
import { Figure, Length } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { StateMark, StateShape, stateWord } from '../parts/StateMark';
import { useKeys } from '../parts/useKeys';
import { useJob } from '../queries';
import './job.css';

/** A job opens on what is wrong and what is next, then shows its links and its network. */
export function JobScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const navigate = useNavigate();
  useKeys({
    n: () => void navigate(`/jobs/${jobId}/new-link`),
    m: () => void navigate(`/jobs/${jobId}/map`),
  });
  if (job.error && !job.data) return <Problem error={job.error} />;
  if (!job.data) return <p className="soft">Reading the job</p>;
  const { links } = job.data;
  return (
    <>
      <div className="row" style={{ margin: '4px 0 16px' }}>
        <h1>{job.data.job.name}</h1>
        <span className="soft">{job.data.job.customer}</span>
      </div>
      <div className="columns">
        <Wrong links={links} />
        <Next links={links} />
      </div>
      <section style={{ marginTop: 28 }}>
        <h2 className="row">
          Links
          <span style={{ flex: 1 }} />
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
      </section>
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

function Wrong({ links }: { links: LinkSummary[] }) {
  const wrong = links.flatMap((link) =>
    link.state.steps
      .filter((s) => (s.state === 'fails' || s.state === 'thin') && s.step !== 'record')
      .map((s) => ({ link, ...s })),
  );
  wrong.sort((a, b) => Number(a.state === 'thin') - Number(b.state === 'thin'));
  return (
    <section>
      <h2>What is wrong</h2>
      {!wrong.length && <p>Nothing known.</p>}
      <ul className="plain">
        {wrong.map(({ link, step, state, because }) => (
          <li key={`${link.id} ${step}`} className="job-item">
            <Link to={`/links/${link.id}/${step}`}>
              {link.name}, {step}
            </Link>
            <StateMark state={state} because={because} />
          </li>
        ))}
      </ul>
    </section>
  );
}

const tasks: Record<string, string> = {
  path: 'Clear the path',
  radio: 'Change the radio plan',
  bench: 'Configure and pair on the bench',
  mount: 'Mount',
  aim: 'Aim again',
  prove: 'Prove the throughput',
};

function Next({ links }: { links: LinkSummary[] }) {
  const order = (link: LinkSummary): number => (link.state.next ? steps.indexOf(link.state.next.step) : steps.length);
  const open = links.filter((link) => link.state.next).sort((a, b) => order(b) - order(a));
  return (
    <section>
      <h2>What is next</h2>
      {!open.length && <p>Every link is proven and on record.</p>}
      <ul className="plain">
        {open.map(({ id, name, nearPlace, farPlace, state }) => {
          const next = state.next;
          if (!next) return null;
          const where =
            next.end === 'both'
              ? 'at both ends'
              : `at the ${next.end} end, ${next.end === 'near' ? nearPlace : farPlace}`;
          return (
            <li key={id} className="job-item">
              <Link to={`/links/${id}/${next.step}`}>
                {name}: {next.step === 'aim' && next.state === 'open' ? 'Aim' : tasks[next.step]}
              </Link>
              <span className={next.end === 'both' ? 'soft' : next.end}>{where}</span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function LinkLine({ link }: { link: LinkSummary }) {
  const state = worstState(link.state.steps);
  return (
    <li className="job-link">
      <span className="job-near near">{link.nearPlace}</span>
      <Link
        to={`/links/${link.id}/${link.state.next?.step ?? 'record'}`}
        className="job-wire"
        aria-label={`${link.name}, ${stateWord(state)}`}
      >
        {link.state.steps.map((s) => (
          <span key={s.step} className="job-bead" title={`${s.step}: ${stateWord(s.state)}, ${s.because}`}>
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
