import { Select, Table, Modal, useMantineColorScheme } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useEffect } from 'react';
import { Link, Outlet, useMatch } from 'react-router';
import { useKeys } from '../parts/useKeys';
import { useJob, useJobs, useLink } from '../queries';
import { useSettings } from '../settings';
import './frame.css';

/** The top line and the room under it. */
export function Frame() {
  const jobMatch = useMatch('/jobs/:jobId/*');
  const linkMatch = useMatch('/links/:linkId/*');
  return (
    <>
      <a className="skip" href="#content">
        Go to the content
      </a>
      {linkMatch?.params.linkId ? <LinkTop linkId={linkMatch.params.linkId} /> : <Top jobId={jobMatch?.params.jobId} />}
      <main id="content" className="page">
        <Outlet />
      </main>
    </>
  );
}

function LinkTop({ linkId }: { linkId: string }) {
  const link = useLink(linkId);
  return <Top jobId={link.data?.link.jobId} />;
}

const keyList: [string, string][] = [
  ['1 to 7', 'the steps of a link: path, radio, bench, mount, aim, prove, record'],
  ['j', 'the job'],
  ['n', 'plan a new link (on the job)'],
  ['m', 'the map (on the job)'],
  ['a, o, z', 'map: add a place, note something in the way, undo a move; Esc gives up'],
  ['p, s, t', 'bench: propose settings, save them, let the stand-in pair try'],
  ['← →', 'aim: tap a notch, or say which way you turn'],
  ['space', 'aim: I stand still'],
  ['l', 'aim: locked'],
  ['u', 'metric or imperial'],
  ['d', 'day or night'],
  ['?', 'these keys'],
];

function Top({ jobId }: { jobId: string | undefined }) {
  const jobs = useJobs();
  const job = useJob(jobId);
  const { units, switchUnits, crewMemberId, chooseCrewMember } = useSettings();
  const { colorScheme, toggleColorScheme } = useMantineColorScheme();
  const [keysShown, keys] = useDisclosure(false);
  useKeys({ '?': keys.toggle, u: switchUnits, d: toggleColorScheme });

  const crew = job.data?.crew;
  useEffect(() => {
    // Somebody must sign: the first of the crew until another is chosen.
    if (crew?.length && !crew.some((member) => member.id === crewMemberId)) chooseCrewMember(crew[0]?.id ?? null);
  }, [crew, crewMemberId, chooseCrewMember]);

  return (
    <header className="top">
      <Link to={jobs.data?.length === 1 ? '/jobs' : '/'} className="top-name">
        <svg width="26" height="22" viewBox="0 0 26 22" aria-hidden="true">
          <path d="M3 2v19" stroke="var(--near)" strokeWidth="3" />
          <path d="M23 2v19" stroke="var(--far)" strokeWidth="3" />
          <path d="M3 4q10 11 20 0" fill="none" stroke="var(--ink)" strokeWidth="1.6" />
        </svg>
        Kivram
      </Link>
      {job.data && (
        <Link to={`/jobs/${job.data.job.id}`} className="top-job">
          {job.data.job.name}
        </Link>
      )}
      <span className="top-gap" />
      {crew && (
        <Select
          aria-label="Who is working"
          size="sm"
          w={150}
          data={crew.map((member) => ({ value: member.id, label: member.name }))}
          value={crewMemberId}
          onChange={(id) => id && chooseCrewMember(id)}
          allowDeselect={false}
        />
      )}
      <button type="button" className="top-switch" onClick={switchUnits} title="Metric or imperial (u)">
        {units}
      </button>
      <button type="button" className="top-switch" onClick={toggleColorScheme} title="Day or night (d)">
        {colorScheme === 'dark' ? 'night' : 'day'}
      </button>
      <button type="button" className="top-switch" onClick={keys.open} aria-label="Show the keys">
        ?
      </button>
      <Modal opened={keysShown} onClose={keys.close} title="Keys" size="lg">
        <Table>
          <Table.Tbody>
            {keyList.map(([key, what]) => (
              <Table.Tr key={key}>
                <Table.Td>
                  <kbd className="figure">{key}</kbd>
                </Table.Td>
                <Table.Td>{what}</Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </Modal>
    </header>
  );
}
