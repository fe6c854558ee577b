import type { Place } from '@kivram/contract/entities/place';
import { LinkPlanBody } from '@kivram/contract/requests/plan';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import type { CatalogueEntry } from '@kivram/contract/views/gear';
import type { LinkEnd, LinkView } from '@kivram/contract/views/link';
import { ends, type End } from '@kivram/core/budget/plan';
import { Button, Select, Textarea, TextInput } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useState } from 'react';
import { Link } from 'react-router';
import { Clash } from '../drafts/Clash';
import { useDraft } from '../drafts/useDraft';
import { Told } from '../parts/Told';
import { Problem } from '../parts/Problem';
import { sendDraft, useCatalogue, useChange, useJobMap, useMay } from '../queries';
import { bodyOf, endDraft, type AboutDraft, type EndDraft } from './aboutDraft';
import { GearChange } from './GearChange';
import { useLinkContext } from './LinkLayout';
import { RemoveLink } from './RemoveLink';
import { Working } from '../parts/Only';

/** The link itself: its name, the places and the gear of its ends, and whether there is to be another one, or none. */
export function AboutLinkScreen() {
  const { view } = useLinkContext();
  const { link, near, far } = view;
  const map = useJobMap(link.jobId);
  const catalogue = useCatalogue();
  const draft = useDraft<AboutDraft>(
    `link/${link.id}/about`,
    { name: link.name, near: endDraft(near), far: endDraft(far) },
    [link, near.radio, far.radio].map((v) => v.version).join(),
  );
  const change = useChange(routes.changePlan, { linkId: link.id });
  const may = useMay(link.jobId);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const { value } = draft;
  const set = (end: End, changes: Partial<EndDraft>): void =>
    draft.set((before) => ({ ...before, [end]: { ...before[end], ...changes } }));
  const save = (): void => {
    const body = bodyOf(view, value, draft.base);
    const found = check(LinkPlanBody, body).errors ?? [];
    setErrors(Object.fromEntries(found.map((e) => [e.field, e.message])));
    if (!found.length) sendDraft(change, body, draft.send());
  };
  if (may.onlyReads) return <ReadLink view={view} />;
  return (
    <>
      <Clash draft={draft} what="This link" />
      <form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          save();
        }}
      >
        <TextInput
          label="Name of the link"
          disabled={!may.work}
          maxLength={80}
          maw={420}
          value={value.name}
          error={errors.name}
          onChange={(event) => {
            const name = event.currentTarget.value;
            draft.set((before) => ({ ...before, name }));
          }}
        />
        <fieldset disabled={!may.work} className="columns bare" style={{ marginTop: 16 }}>
          {ends.map((end) => (
            <EndForm
              key={end}
              end={end}
              at={view[end]}
              draft={value[end]}
              places={map.data?.places ?? []}
              catalogue={catalogue.data ?? []}
              errors={errors}
              onChange={(changes) => set(end, changes)}
            />
          ))}
        </fieldset>
        <GearChange view={view} draft={value} catalogue={catalogue.data ?? []} />
        <Problem error={change.error} />
        <Working jobId={link.jobId}>
          <div className="row" style={{ marginTop: 12 }}>
            <Button type="submit" disabled={!draft.changed || draft.peeking} loading={change.isPending}>
              Save the link
            </Button>
            {draft.changed && (
              <Button variant="default" onClick={draft.drop}>
                Give up the changes
              </Button>
            )}
          </div>
        </Working>
      </form>
      <Working jobId={link.jobId}>
        <Ways view={view} />
      </Working>
    </>
  );
}

/** The link for who changes nothing: what stands at each end. */
function ReadLink({ view }: { view: LinkView }) {
  return (
    <div className="columns bare">
      {ends.map((end) => {
        const { place, model, radio } = view[end];
        return (
          <section key={end}>
            <h2 className={end}>
              {end === 'near' ? 'Near end' : 'Far end'}, {place.name}
            </h2>
            <Told
              rows={[
                ['Gear', `${model.maker} ${model.name}, revision ${radio.modelRevision} of its spec sheet`],
                ['Serial number', radio.serial],
                ['Hardware address', radio.mac],
                ['Note', radio.note],
              ]}
            />
          </section>
        );
      })}
    </div>
  );
}

interface EndFormProps {
  end: End;
  at: LinkEnd;
  draft: EndDraft;
  places: readonly Place[];
  catalogue: readonly CatalogueEntry[];
  errors: Record<string, string>;
  onChange(changes: Partial<EndDraft>): void;
}

function EndForm({ end, at, draft, places, catalogue, errors, onChange }: EndFormProps) {
  const entry = catalogue.find(({ spec }) => spec.id === draft.modelId);
  const known = catalogue.some(({ spec }) => spec.id === at.radio.modelId);
  const models = [
    ...catalogue.map(({ spec }) => ({ value: spec.id, label: `${spec.maker} ${spec.name}` })),
    ...(known ? [] : [{ value: at.radio.modelId, label: `${at.model.maker} ${at.model.name}, not in the catalogue` }]),
  ];
  const newer =
    entry && draft.modelId === at.radio.modelId && entry.revision > draft.modelRevision ? entry.revision : null;
  const text = (name: 'serial' | 'mac', label: string, placeholder: string) => (
    <TextInput
      label={label}
      placeholder={placeholder}
      maxLength={60}
      value={draft[name]}
      error={errors[`${end}.${name}`]}
      onChange={(event) => onChange({ [name]: event.currentTarget.value })}
    />
  );
  return (
    <fieldset className="end-fields">
      <legend className={`${end} end-heading`}>
        {end === 'near' ? 'Near end' : 'Far end'}, {at.place.name}
      </legend>
      <Select
        label="Place"
        searchable
        allowDeselect={false}
        data={places.filter((p) => p.kind === 'site').map((p) => ({ value: p.id, label: p.name }))}
        value={draft.placeId}
        onChange={(placeId) => placeId && onChange({ placeId })}
      />
      {at.otherStations > 0 && draft.placeId !== at.radio.placeId && (
        <p className="caution">This radio serves other links too: all of them go there with it.</p>
      )}
      <Select
        label="Gear"
        searchable
        allowDeselect={false}
        data={models}
        value={draft.modelId}
        onChange={(modelId) => {
          if (!modelId) return;
          const same = modelId === at.radio.modelId;
          const revision = catalogue.find(({ spec }) => spec.id === modelId)?.revision;
          onChange({ modelId, modelRevision: same ? at.radio.modelRevision : (revision ?? 1) });
        }}
      />
      {newer && (
        <p className="caution">
          Planned with revision {draft.modelRevision} of its spec sheet; the catalogue has revision {newer}.{' '}
          <Button size="compact-sm" variant="default" onClick={() => onChange({ modelRevision: newer })}>
            Follow it
          </Button>
        </p>
      )}
      {text('serial', 'Serial number', 'as on its label')}
      {text('mac', 'Hardware address', '02:1a:2b:3c:4d:5e')}
      <Textarea
        label="Note"
        autosize
        minRows={2}
        maxLength={2000}
        value={draft.note}
        onChange={(event) => onChange({ note: event.currentTarget.value })}
      />
    </fieldset>
  );
}

/** Another link like it, another station, the ends exchanged, or no link at all. */
function Ways({ view: { link, air, near, far } }: { view: LinkView }) {
  const swap = useChange(routes.swapEnds, { linkId: link.id });
  const [asking, { open, close }] = useDisclosure(false);
  const access = [near, far].find((end) => end.radio.role === 'access');
  const newLink = `/jobs/${link.jobId}/new-link`;
  return (
    <section style={{ marginTop: 28 }}>
      <h2>Other links, or none</h2>
      <div className="row">
        {access && air.kind !== 'duplex' && (
          <Button component={Link} to={`${newLink}?hub=${access.radio.id}`} variant="default">
            Add a station to the radio at {access.place.name}
          </Button>
        )}
        <Button component={Link} to={`${newLink}?like=${link.id}`} variant="default">
          Plan another one like it
        </Button>
        <Button variant="default" loading={swap.isPending} onClick={() => swap.mutate({ version: link.version })}>
          Exchange near and far
        </Button>
        <Button variant="default" onClick={open}>
          Remove the link
        </Button>
      </div>
      <Problem error={swap.error} />
      {asking && <RemoveLink linkId={link.id} jobId={link.jobId} version={link.version} onClose={close} />}
    </section>
  );
}
