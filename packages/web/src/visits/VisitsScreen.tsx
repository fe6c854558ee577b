import { NewVisitBody, VisitBody } from '@kivram/contract/requests/visit';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import { momentText } from '@kivram/core/units/moment';
import { Button, Textarea, TextInput } from '@mantine/core';
import { useState } from 'react';
import { useParams } from 'react-router';
import { FormClash } from '../drafts/Clash';
import { drafts } from '../drafts/drafts';
import { useKeptForm } from '../drafts/useKeptForm';
import { JobTabs } from '../job/JobTabs';
import { NotShown } from '../parts/NotShown';
import { Problem } from '../parts/Problem';
import { sendDraft, sendThen, useChange, useJob, useMay } from '../queries';
import { PhotoStrip } from './PhotoStrip';
import { useVisits, type ShownVisit } from './useVisits';
import './visits.css';

/** When somebody was on site, what for and what they saw, with photos. */
export function VisitsScreen() {
  const { jobId = '' } = useParams();
  const job = useJob(jobId);
  const visits = useVisits(jobId);
  const may = useMay(jobId);
  if (!job.data) return job.error ? <NotShown error={job.error} /> : <p className="soft">Reading the visits</p>;
  const { name, customer } = job.data.job;
  const who = new Map(visits.shown.crew.map((member) => [member.id, member.name]));
  return (
    <>
      <JobTabs jobId={jobId} name={name} customer={customer} />
      <div className={may.work ? 'visits' : ''}>
        {may.work && <NewVisit jobId={jobId} />}
        <div>
          {!visits.data && <Problem error={visits.error} />}
          {visits.data && !visits.shown.visits.length && (
            <p>
              No visit yet. A note of who was on site, what they found and did, and a few photos save the next person a
              trip.
            </p>
          )}
          {visits.shown.visits.map((visit) => (
            <VisitPart
              key={visit.id}
              jobId={jobId}
              visit={visit}
              by={who.get(visit.crewMemberId ?? '') ?? null}
              mayChange={may.work}
            />
          ))}
        </div>
      </div>
    </>
  );
}

const nothing = { purpose: '', company: '', note: '' };

function NewVisit({ jobId }: { jobId: string }) {
  const create = useChange(routes.createVisit, { jobId });
  const form = useKeptForm<typeof nothing>(`job/${jobId}/new-visit`, nothing);
  const done = (): void => {
    form.reset();
    form.forget();
  };
  const submit = form.onSubmit(({ purpose, company, note }) => {
    const body = { purpose: purpose.trim(), company: company.trim(), note, startedAt: new Date().toISOString() };
    const { errors } = check(NewVisitBody, body);
    if (errors) return form.setErrors(Object.fromEntries(errors.map((e) => [e.field, e.message])));
    sendThen(create, body, done, done);
  });
  return (
    <form onSubmit={submit} noValidate className="new-visit">
      <TextInput label="You are on site: what for?" maxLength={120} {...form.getInputProps('purpose')} />
      <TextInput label="Who came along" mt="xs" maxLength={200} {...form.getInputProps('company')} />
      <Textarea label="Note" autosize minRows={2} mt="xs" maxLength={4000} {...form.getInputProps('note')} />
      <Problem error={create.error} />
      <Button type="submit" mt="sm" loading={create.isPending}>
        Begin the visit
      </Button>
    </form>
  );
}

interface VisitProps {
  jobId: string;
  visit: ShownVisit;
  /** who noted it */
  by: string | null;
  mayChange: boolean;
}

function VisitPart({ jobId, visit, by, mayChange }: VisitProps) {
  // What was typed before the page was loaded again stands there again.
  const [editing, setEditing] = useState(() => drafts.get(`visit/${visit.id}`) !== undefined);
  const end = useChange(routes.changeVisit, { visitId: visit.id });
  const remove = useChange(routes.removeVisit, { visitId: visit.id }, `?version=${visit.version}`);
  return (
    <section className="visit" aria-label={visit.purpose}>
      <h2 style={{ border: 0, marginBottom: 0 }}>{visit.purpose}</h2>
      <p className="note">
        <span className="figure">{momentText(visit.startedAt)}</span>
        {visit.endedAt ? (
          <>
            {' '}
            to <span className="figure">{momentText(visit.endedAt)}</span>
          </>
        ) : (
          ', still there'
        )}
        {by && `, ${by}`}
        {visit.company && `, with ${visit.company}`}
        {visit.waits && '. Waits on this device to be sent.'}
      </p>
      {editing ? (
        <EditVisit visit={visit} done={() => setEditing(false)} />
      ) : (
        visit.note && <p className="visit-note">{visit.note}</p>
      )}
      <PhotoStrip jobId={jobId} of="visit" id={visit.id} name={visit.purpose} />
      {mayChange && !editing && (
        <div className="row" style={{ marginTop: 10 }}>
          <Button size="sm" variant="default" onClick={() => setEditing(true)}>
            Write more
          </Button>
          {!visit.endedAt && (
            <Button
              size="sm"
              variant="default"
              loading={end.isPending}
              onClick={() => end.mutate({ version: visit.version, endedAt: new Date().toISOString() })}
            >
              The visit is over
            </Button>
          )}
          {!visit.waits && (
            <Button size="sm" variant="subtle" loading={remove.isPending} onClick={() => remove.mutate(undefined)}>
              Remove
            </Button>
          )}
        </div>
      )}
      <Problem error={end.error ?? remove.error} />
    </section>
  );
}

function EditVisit({ visit, done }: { visit: ShownVisit; done(): void }) {
  const change = useChange(routes.changeVisit, { visitId: visit.id });
  const { purpose, company, note } = visit;
  const form = useKeptForm<typeof nothing>(`visit/${visit.id}`, { purpose, company, note }, String(visit.version));
  const close = (): void => {
    form.forget();
    done();
  };
  const submit = form.onSubmit((values) => {
    const body = { ...values, purpose: values.purpose.trim(), version: Number(form.base) };
    const { errors } = check(VisitBody, body);
    if (errors) return form.setErrors(Object.fromEntries(errors.map((e) => [e.field, e.message])));
    sendDraft(change, body, form.send(close), true);
  });
  return (
    <form onSubmit={submit} noValidate style={{ maxWidth: 560 }}>
      <FormClash form={form} saved={`${purpose}: ${note}`} />
      <TextInput label="What for" maxLength={120} {...form.getInputProps('purpose')} />
      <TextInput label="Who came along" mt="xs" maxLength={200} {...form.getInputProps('company')} />
      <Textarea label="Note" autosize minRows={3} mt="xs" maxLength={4000} {...form.getInputProps('note')} />
      <Problem error={change.error} />
      <div className="row" style={{ margin: '10px 0' }}>
        <Button type="submit" disabled={!form.isDirty()} loading={change.isPending}>
          Save
        </Button>
        <Button variant="default" onClick={close}>
          {form.isDirty() ? 'Give it up' : 'Close'}
        </Button>
      </div>
    </form>
  );
}
