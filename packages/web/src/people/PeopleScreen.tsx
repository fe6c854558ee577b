import { jobRoles, type JobRole } from '@kivram/contract/entities/crewMember';
import { routes } from '@kivram/contract/routes';
import type { KnownPerson, PersonView } from '@kivram/contract/views/people';
import { dateText, momentText } from '@kivram/core/units/moment';
import { Button, TextInput } from '@mantine/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { useParams } from 'react-router';
import { call } from '../api';
import { JobTabs } from '../job/JobTabs';
import { PlainSelect } from '../parts/PlainSelect';
import { NotShown } from '../parts/NotShown';
import { Problem } from '../parts/Problem';
import { sendThen, useChange, useJob, useMay, useServerSettings } from '../queries';
import './people.css';

const InvitationDialog = lazy(async () => ({ default: (await import('./InvitationDialog')).InvitationDialog }));

/** What each part lets somebody do. */
export const roleWords: Record<JobRole, string> = {
  reader: 'reads everything but passphrases, changes nothing',
  installer: 'changes what belongs to the job, sees passphrases',
  lead: 'changes the job itself, its people, and takes passphrases along',
};

/** Who works on a job, as what, and which phones they come in from. */
export function PeopleScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const may = useMay(jobId);
  const people = useQuery({ queryKey: ['job', jobId, 'people'], queryFn: () => call(routes.people, { jobId }) });
  if (!job.data) return job.error ? <NotShown error={job.error} /> : <p className="soft">Reading the people</p>;
  const { name, customer } = job.data.job;
  const all = people.data?.people ?? [];
  const left = all.filter((person) => person.leftAt);
  return (
    <>
      <JobTabs jobId={jobId} name={name} customer={customer} />
      {!people.data && <Problem error={people.error} />}
      <div className="columns">
        <section>
          <h2>Who works on this job</h2>
          <ul className="plain">
            {all
              .filter((person) => !person.leftAt)
              .map((person) => (
                <PersonLine key={person.id} person={person} known={people.data?.known ?? []} lead={may.lead} />
              ))}
          </ul>
          {may.lead && <AddPerson jobId={jobId} />}
          {left.length > 0 && (
            <details style={{ marginTop: 16 }}>
              <summary>Worked on it before: {left.length}</summary>
              <ul className="plain">
                {left.map((person) => (
                  <FormerLine key={person.id} person={person} lead={may.lead} />
                ))}
              </ul>
            </details>
          )}
        </section>
        <section>
          <h2>What each may do</h2>
          <dl className="parts">
            {[...jobRoles].reverse().map((role) => (
              <div key={role}>
                <dt>{role}</dt>
                <dd>{roleWords[role]}</dd>
              </div>
            ))}
          </dl>
          <Door />
        </section>
      </div>
    </>
  );
}

interface LineProps {
  person: PersonView;
  /** people of other jobs, whom this one may be */
  known: readonly KnownPerson[];
  lead: boolean;
}

function PersonLine({ person, known, lead }: LineProps) {
  const { id, name, role, sessions, hasPassword, signsInAs } = person;
  const [sameAs, setSameAs] = useState('');
  const change = useChange(routes.changePerson, { memberId: id });
  const settings = useServerSettings();
  const invite = useMutation({ mutationFn: () => call(routes.invite, { memberId: id }, sameAs ? { sameAs } : {}) });
  return (
    <li className="person">
      <div className="row">
        <strong className="person-name">{name}</strong>
        {lead ? (
          <PlainSelect
            aria-label={`What ${name} may do`}
            options={jobRoles.map((value) => ({ value, label: value }))}
            value={role}
            onChoose={(value) => change.mutate({ role: value })}
          />
        ) : (
          <span>{role}</span>
        )}
        {lead && settings.data?.opening && signsInAs === null && known.length > 0 && (
          <PlainSelect
            aria-label={`Who ${name} is`}
            options={[
              { value: '', label: 'is new here' },
              ...known.map((other) => ({ value: other.memberId, label: `is ${other.name} of ${other.jobName}` })),
            ]}
            value={sameAs}
            onChoose={setSameAs}
          />
        )}
        {lead && settings.data?.opening && (
          <Button size="sm" variant="default" loading={invite.isPending} onClick={() => invite.mutate()}>
            Invite a phone
          </Button>
        )}
        {lead && (
          <Button size="sm" variant="subtle" loading={change.isPending} onClick={() => change.mutate({ left: true })}>
            Left the job
          </Button>
        )}
      </div>
      {signsInAs !== null && (signsInAs !== name || hasPassword) && (
        <p className="note">
          {signsInAs !== name && `Signs in as ${signsInAs}. `}
          {hasPassword && 'Has a password for coming back.'}
        </p>
      )}
      {sessions.map((session) => (
        <SessionPart key={session.id} session={session} />
      ))}
      <Problem error={change.error ?? invite.error} />
      {invite.data && settings.data?.opening && (
        <Suspense fallback={null}>
          <InvitationDialog invitation={invite.data} opening={settings.data.opening} onClose={invite.reset} />
        </Suspense>
      )}
    </li>
  );
}

function SessionPart({
  session: { id, device, startedAt, usedAt, isThis },
}: {
  session: PersonView['sessions'][number];
}) {
  const end = useChange(routes.endSession, { sessionId: id });
  return (
    <div className="row person-session">
      <span className="note">
        {device}
        {isThis && ' (this one)'}, since {dateText(startedAt)}, last used{' '}
        <span className="figure">{momentText(usedAt)}</span>
      </span>
      {!isThis && (
        <Button size="compact-sm" variant="default" loading={end.isPending} onClick={() => end.mutate(undefined)}>
          End it
        </Button>
      )}
      <Problem error={end.error} />
    </div>
  );
}

function FormerLine({ person: { id, name, leftAt }, lead }: { person: PersonView; lead: boolean }) {
  const change = useChange(routes.changePerson, { memberId: id });
  return (
    <li className="row person">
      <span>
        {name} <span className="note">until {leftAt && dateText(leftAt)}</span>
      </span>
      {lead && (
        <Button size="sm" variant="default" loading={change.isPending} onClick={() => change.mutate({ left: false })}>
          Is back
        </Button>
      )}
      <Problem error={change.error} />
    </li>
  );
}

function AddPerson({ jobId }: { jobId: string }) {
  const add = useChange(routes.addPerson, { jobId });
  const [name, setName] = useState('');
  const [role, setRole] = useState<JobRole>('installer');
  return (
    <form
      style={{ marginTop: 20 }}
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) sendThen(add, { name: name.trim(), role }, () => setName(''));
      }}
    >
      <div className="row" style={{ alignItems: 'end' }}>
        <TextInput
          label="Add somebody"
          placeholder="first and family name"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <PlainSelect
          aria-label="What they may do"
          options={jobRoles.map((value) => ({ value, label: value }))}
          value={role}
          onChoose={(value) => setRole(value as JobRole)}
        />
        <Button type="submit" size="sm" disabled={!name.trim()} loading={add.isPending}>
          Add
        </Button>
      </div>
      <Problem error={add.error} />
    </form>
  );
}

/** How phones reach this computer, or how to let them. */
function Door() {
  const { data } = useServerSettings();
  if (!data) return null;
  const { opening } = data;
  return (
    <section style={{ marginTop: 24 }}>
      <h2>Phones on the local network</h2>
      {opening ? (
        <>
          <p>
            Kivram is open at{' '}
            {opening.addresses.map((address) => (
              <span key={address} className="figure">
                {address}{' '}
              </span>
            ))}
            <br />
            &ldquo;Invite a phone&rdquo; beside a name shows a code to scan. It lets one phone in, once, within ten
            minutes.
          </p>
          <p className="note">
            The phone warns of the certificate, because this computer made it itself. It is the right one if its
            SHA&#8209;256 fingerprint is
          </p>
          <p className="figure fingerprint">{opening.fingerprint}</p>
          <details>
            <summary>Let the phone trust this computer for good</summary>
            <p className="note">
              Then the warning goes, and Kivram can be put on the phone as an app that also opens without a network.
              Open{' '}
              <a href="/kivram-authority.crt" download>
                the certificate of this computer
              </a>{' '}
              on the phone and take it on in its settings, under certificates. It can vouch for addresses of private
              networks only. Its fingerprint is
            </p>
            <p className="figure fingerprint">{opening.authorityFingerprint}</p>
          </details>
        </>
      ) : (
        <p>
          Kivram answers to this computer only. To use it on phones, end it and start it with{' '}
          <span className="figure">npm start -- --lan</span>: it then also answers on the local network, encrypted, to
          who was invited here.
        </p>
      )}
    </section>
  );
}
