import { routes } from '@kivram/contract/routes';
import type { LinkEnd, LinkView } from '@kivram/contract/views/link';
import { ends, type End } from '@kivram/core/budget/plan';
import { Button, Textarea } from '@mantine/core';
import { FormClash } from '../drafts/Clash';
import { useKeptForm } from '../drafts/useKeptForm';
import { Problem } from '../parts/Problem';
import { sendDraft, useChange, useMay } from '../queries';
import { PhotoStrip } from './PhotoStrip';

/** What is worth seeing and knowing at both ends of a link: photos and a note of each radio and its place. */
export function EndsNotes({ view }: { view: LinkView }) {
  const { jobId } = view.link;
  const may = useMay(jobId);
  return (
    <section style={{ marginTop: 28 }} aria-label="Photos and notes">
      <div className="ends-notes">
        {ends.map((end) => (
          <div key={end}>
            <h2 className={end}>
              {end === 'near' ? 'Near' : 'Far'}: {view[end].place.name}
            </h2>
            <h3 className="note">The radio</h3>
            <PhotoStrip jobId={jobId} of="radio" id={view[end].radio.id} name={`the ${end} radio`} />
            <RadioNote end={end} at={view[end]} mayChange={may.work} />
            <h3 className="note" style={{ marginTop: 12 }}>
              The place
            </h3>
            <PhotoStrip jobId={jobId} of="place" id={view[end].place.id} name={view[end].place.name} />
            {view[end].place.note && <p className="visit-note">{view[end].place.note}</p>}
          </div>
        ))}
      </div>
    </section>
  );
}

function RadioNote({ end, at: { radio }, mayChange }: { end: End; at: LinkEnd; mayChange: boolean }) {
  const change = useChange(routes.changeRadio, { radioId: radio.id });
  const form = useKeptForm<{ note: string }>(`radio/${radio.id}/note`, { note: radio.note }, String(radio.version));
  if (!mayChange) return radio.note ? <p className="visit-note">{radio.note}</p> : null;
  const submit = form.onSubmit(({ note }) =>
    sendDraft(change, { version: Number(form.base), note }, form.send(), true),
  );
  return (
    <form onSubmit={submit} noValidate style={{ marginTop: 8 }}>
      <FormClash form={form} saved={radio.note || 'no note'} />
      <Textarea
        label={`Note about the ${end} radio`}
        autosize
        minRows={1}
        maxLength={2000}
        {...form.getInputProps('note')}
      />
      <Problem error={change.error} />
      {form.isDirty() && (
        <Button type="submit" size="sm" mt={6} loading={change.isPending}>
          Save the note
        </Button>
      )}
    </form>
  );
}
