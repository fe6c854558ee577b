import { useMantineColorScheme } from '@mantine/core';
import { useDisclosure, useHotkeys } from '@mantine/hooks';
import { routes } from '@kivram/contract/routes';
import type { JobView } from '@kivram/contract/views/job';
import { useMutation } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useRef } from 'react';
import { Link, Outlet, useMatch } from 'react-router';
import { useIsLate, useJobNews } from '../alive/useJobNews';
import { useSending, useWaiting } from '../outbox/useOutbox';
import { readinessWords, useReadiness } from '../offline/readiness';
import { PlainSelect } from '../parts/PlainSelect';
import { useKeys } from '../parts/useKeys';
import { call, ProblemError } from '../api';
import { useJob, useJobs, useLink, useRefresh, useSession, useTakeSession, useTrouble, useWarning } from '../queries';
import { useSettings } from '../settings';
import './frame.css';

/** The top line and the room under it. */
export function Frame() {
  const jobMatch = useMatch('/jobs/:jobId/*');
  const ofJob = jobMatch?.params.jobId;
  const linkMatch = useMatch('/links/:linkId/*');
  const linkId = linkMatch?.params.linkId;
  const link = useLink(linkId ?? '');
  const jobId = linkId ? link.data?.link.jobId : ofJob === 'new' ? undefined : ofJob;
  const session = useSession().data;
  // Whoever is not let in is told nothing.
  useJobNews(session?.isHere || session?.person ? jobId : undefined);
  return (
    <>
      <a className="skip" href="#content">
        Go to the content
      </a>
      <Top jobId={jobId} linkId={linkId} />
      <Trouble />
      <main id="content" className="page">
        <Inside />
      </main>
    </>
  );
}

const SignIn = lazy(async () => ({ default: (await import('../you/SignIn')).SignIn }));

/** The screen; over the network only for who has signed in, or has just been invited. */
function Inside() {
  const session = useSession();
  const invited = useMatch('/join');
  useSending();
  const { data, error } = session;
  if (error instanceof ProblemError && error.problem.status === 401)
    return (
      <section role="alert">
        <h1>This browser is not let in yet</h1>
        <p>{error.problem.detail}</p>
      </section>
    );
  if (session.isPending) return <p className="soft">Loading</p>;
  if (!data || data.isHere || data.person || invited) return <Outlet />;
  return (
    <Suspense fallback={<p className="soft">Loading</p>}>
      <SignIn />
    </Suspense>
  );
}

/** What was changed and waits on this device. */
function WaitingCount() {
  const waiting = useWaiting();
  if (!waiting.length) return null;
  const refused = waiting.some((change) => change.problem);
  return (
    <span role="status">
      <Link to="/waiting" className="top-waiting">
        {waiting.length} waiting{refused && ', look'}
      </Link>
    </span>
  );
}

/** Across every page, while the server or its database does not work, or soon will not. */
function Trouble() {
  const trouble = useTrouble();
  const warning = useWarning();
  const readiness = useReadiness();
  const isLate = useIsLate();
  const isAway = useSession().data?.isHere === false;
  const refresh = useRefresh();
  const before = useRef(trouble);
  useEffect(() => {
    // What could not be read meanwhile is read once it can be.
    if (before.current && !trouble) void refresh();
    before.current = trouble;
  }, [trouble]); // oxlint-disable-line react/exhaustive-deps -- only when it comes or goes
  if (trouble)
    return (
      <p className="trouble" role="alert">
        {trouble}
      </p>
    );
  if (!warning && isLate)
    return (
      <p className="trouble trouble-soon" role="status">
        What others change does not come in now: this is as it was read last.
      </p>
    );
  if (!warning && isAway && (readiness === 'untrusted' || readiness === 'unable'))
    return (
      <p className="trouble trouble-soon" role="status">
        {readinessWords[readiness]}
      </p>
    );
  return (
    warning && (
      <p className="trouble trouble-soon" role="status">
        {warning}
      </p>
    )
  );
}

/**
 * Who works on this job in this browser, as the session says. At the computer itself somebody must sign, so the first who leads the job does until another is chosen; over the network it is who
 * has signed in.
 */
function useWorker(job: JobView | undefined): { chosen: string | null; choose(id: string): void } {
  const session = useSession();
  const take = useTakeSession();
  const { mutate, isPending } = useMutation({
    mutationFn: (crewMemberId: string) => call(routes.chooseMember, {}, { crewMemberId }),
    onSuccess: take,
  });
  const here = session.data?.isHere ?? false;
  const chosen = (job && session.data?.members[job.job.id]?.id) ?? null;
  const present = job ? presentOf(job) : [];
  const known = present.some((member) => member.id === chosen);
  const first = (present.find((member) => member.role === 'lead') ?? present[0])?.id;
  const failed = session.isError;
  useEffect(() => {
    if (here && first && !known && !isPending && !failed) mutate(first);
  }, [here, first, known, isPending, failed, mutate]);
  return { chosen: known ? chosen : null, choose: mutate };
}

const presentOf = ({ crew }: JobView) => crew.filter((member) => member.leftAt === null);

const CommandBar = lazy(async () => ({ default: (await import('./CommandBar')).CommandBar }));
const KeysDialog = lazy(async () => ({ default: (await import('./KeysDialog')).KeysDialog }));
const JoinDialog = lazy(async () => ({ default: (await import('./JoinDialog')).JoinDialog }));

/** A job without a crew: nothing can be changed in it before somebody has said who that is. */
function Join({ job }: { job: JobView }) {
  const [opened, { open, close }] = useDisclosure(false);
  return (
    <>
      <button type="button" className="top-switch" onClick={open}>
        Who is working?
      </button>
      {opened && (
        <Suspense fallback={null}>
          <JoinDialog job={job} onClose={close} />
        </Suspense>
      )}
    </>
  );
}

function Top({ jobId, linkId }: { jobId: string | undefined; linkId?: string }) {
  const jobs = useJobs();
  const job = useJob(jobId);
  const { units, switchUnits, followJob } = useSettings();
  const session = useSession().data;
  const readiness = useReadiness();
  const worker = useWorker(job.data);
  const { colorScheme, toggleColorScheme } = useMantineColorScheme();
  const [keysShown, keys] = useDisclosure(false);
  const [finding, find] = useDisclosure(false);
  useKeys({ '?': keys.toggle, u: switchUnits, d: toggleColorScheme, '/': find.open });
  useHotkeys([['mod+K', find.open]], []);

  const crew = job.data && presentOf(job.data);
  const jobUnits = job.data?.job.units;
  useEffect(() => {
    if (jobUnits) followJob(jobUnits);
  }, [jobUnits, followJob]);

  return (
    <header className="top">
      <Link to={jobs.data?.length === 1 ? '/jobs' : '/'} className="top-name">
        <svg width="26" height="22" viewBox="0 0 26 22" aria-hidden="true">
          <path d="M3 2v19" stroke="var(--near)" strokeWidth="3" />
          <path d="M23 2v19" stroke="var(--far)" strokeWidth="3" />
          <path d="M3 4q10 11 20 0" fill="none" stroke="var(--ink)" strokeWidth="1.6" />
        </svg>
        <span className="top-word">Kivram</span>
      </Link>
      {job.data && (
        <Link to={`/jobs/${job.data.job.id}`} className="top-job">
          {job.data.job.name}
        </Link>
      )}
      {job.data?.job.practice && (
        <span className="top-practice" title="What stand-in radios do counts as done here; on a real job it never does">
          practice
        </span>
      )}
      <span className="top-gap" />
      <button
        type="button"
        className="top-switch"
        onClick={find.open}
        title="Find a place, a radio, an address, a step (/)"
      >
        find
      </button>
      {session?.isHere && job.data && !crew?.length && <Join job={job.data} />}
      {session?.isHere && crew && crew.length > 0 && (
        <PlainSelect
          aria-label="Who is working"
          options={crew.map(({ id, name, role }) => ({
            value: id,
            label: role === 'reader' ? `${name} (reads)` : name,
          }))}
          value={worker.chosen ?? ''}
          onChoose={worker.choose}
        />
      )}
      <WaitingCount />
      {session?.person && (
        <Link to="/you" className="top-you" title={readinessWords[readiness]}>
          {session.person.name}
          {readiness === 'ready' && <span aria-label=", ready to work without the network"> ✓</span>}
        </Link>
      )}
      <button type="button" className="top-switch" onClick={switchUnits} title="Metric or imperial (u)">
        {units}
      </button>
      <button type="button" className="top-switch" onClick={toggleColorScheme} title="Day or night (d)">
        {colorScheme === 'dark' ? 'night' : 'day'}
      </button>
      <button type="button" className="top-switch top-keys" onClick={keys.open} aria-label="Show the keys">
        ?
      </button>
      {finding && (
        <Suspense fallback={null}>
          <CommandBar jobId={jobId} linkId={linkId} onClose={find.close} />
        </Suspense>
      )}
      {keysShown && (
        <Suspense fallback={null}>
          <KeysDialog onClose={keys.close} />
        </Suspense>
      )}
    </header>
  );
}
