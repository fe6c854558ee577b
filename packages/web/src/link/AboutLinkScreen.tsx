import {
  check,
  LinkPlanBody,
  routes,
  type CatalogueEntry,
  type LinkEnd,
  type LinkView,
  type Place,
} from '@kivram/contract';
import { ends, planOf, tryPredict, type End, type Model } from '@kivram/core';
import { Button, Modal, Select, Textarea, TextInput } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { Clash } from '../drafts/Clash';
import { useDraft } from '../drafts/useDraft';
import { Figure } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { Rate } from '../parts/Rate';
import { RemovalWords } from '../parts/RemovalWords';
import { sendThen, useCatalogue, useChange, useJobMap } from '../queries';
import { useLinkContext } from './LinkLayout';

/** One end as it is typed: where it is, with what, and what is on its label. */
interface EndDraft {
  placeId: string;
  modelId: string;
  modelRevision: number;
  serial: string;
  mac: string;
  note: string;
}

interface AboutDraft {
  name: string;
  near: EndDraft;
  far: EndDraft;
}

function endDraft({ radio }: LinkEnd): EndDraft {
  const { placeId, modelId, modelRevision, serial, mac, note } = radio;
  return { placeId, modelId, modelRevision, serial: serial ?? '', mac: mac ?? '', note };
}

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
  const [errors, setErrors] = useState<Record<string, string>>({});
  const { value } = draft;
  const set = (end: End, changes: Partial<EndDraft>): void =>
    draft.set((before) => ({ ...before, [end]: { ...before[end], ...changes } }));
  const save = (): void => {
    const body = bodyOf(view, value, draft.base);
    const found = check(LinkPlanBody, body).errors ?? [];
    setErrors(Object.fromEntries(found.map((e) => [e.field, e.message])));
    if (!found.length) sendThen(change, body, draft.drop);
  };
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
          maxLength={80}
          maw={420}
          value={value.name}
          error={errors.name}
          onChange={(event) => {
            const name = event.currentTarget.value;
            draft.set((before) => ({ ...before, name }));
          }}
        />
        <div className="columns" style={{ marginTop: 16 }}>
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
        </div>
        <WouldChange view={view} draft={value} catalogue={catalogue.data ?? []} />
        <Problem error={change.error} />
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
      </form>
      <Ways view={view} />
    </>
  );
}

/** What is typed as a change of the plan: only what differs, so that what others change meanwhile stays. */
function bodyOf({ link, near, far }: LinkView, draft: AboutDraft, base: string): object {
  const [version = 0, nearVersion = 0, farVersion = 0] = base.split(',').map(Number);
  const part = (end: End, at: LinkEnd, radioVersion: number): object => {
    const before = endDraft(at);
    const { placeId, modelId, modelRevision, serial, mac, note } = draft[end];
    const changes = {
      ...(placeId !== before.placeId && { placeId }),
      ...(modelId !== before.modelId ? { modelId } : modelRevision !== before.modelRevision && { modelRevision }),
      ...(serial.trim() !== before.serial && { serial: serial.trim() || null }),
      ...(mac.trim() !== before.mac && { mac: mac.trim() || null }),
      ...(note !== before.note && { note }),
    };
    return Object.keys(changes).length ? { [end]: { version: radioVersion, ...changes } } : {};
  };
  return {
    version,
    ...(draft.name.trim() !== link.name && { name: draft.name.trim() }),
    ...part('near', near, nearVersion),
    ...part('far', far, farVersion),
  };
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

/** What other gear would change, before it is saved; another place has another path, which is computed once it is. */
function WouldChange({
  view,
  draft,
  catalogue,
}: {
  view: LinkView;
  draft: AboutDraft;
  catalogue: readonly CatalogueEntry[];
}) {
  const modelOf = (end: End): Model => {
    const { radio, model } = view[end];
    const { modelId, modelRevision } = draft[end];
    if (modelId === radio.modelId && modelRevision === radio.modelRevision) return model;
    return catalogue.find(({ spec }) => spec.id === modelId)?.spec ?? model;
  };
  const models = { near: modelOf('near'), far: modelOf('far') };
  const moved = ends.some((end) => draft[end].placeId !== view[end].radio.placeId);
  const other = ends.some((end) => models[end] !== view[end].model);
  if (!moved && !other) return null;
  if (moved) return <p className="note">Another place has another path: it is computed once this is saved.</p>;
  const plan = planOf(view);
  const now = tryPredict(plan).prediction;
  const then = tryPredict({
    ...plan,
    near: { ...plan.near, model: models.near },
    far: { ...plan.far, model: models.far },
  }).prediction;
  if (!now || !then) return null;
  return (
    <section>
      <h2>What that changes</h2>
      <table className="ruled">
        <thead>
          <tr>
            <th>
              <span className="visually-hidden">What</span>
            </th>
            <th className="right">Now</th>
            <th className="right">Then</th>
          </tr>
        </thead>
        <tbody>
          {ends.map((end) => (
            <tr key={end}>
              <th scope="row">Level at the {end} end</th>
              <td className="right">
                <Figure value={now[end].rslDbm} unit="dBm" />
              </td>
              <td className="right">
                <Figure value={then[end].rslDbm} unit="dBm" />
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row">Margin before it drops</th>
            <td className="right">
              <Figure value={Math.min(now.near.marginDb, now.far.marginDb)} unit="dB" signed />
            </td>
            <td className="right">
              <Figure value={Math.min(then.near.marginDb, then.far.marginDb)} unit="dB" signed />
            </td>
          </tr>
          <tr>
            <th scope="row">TCP alone, near to far</th>
            <td className="right">
              <Rate mbps={now.nearToFar.aloneMbps} />
            </td>
            <td className="right">
              <Rate mbps={then.nearToFar.aloneMbps} />
            </td>
          </tr>
        </tbody>
      </table>
      <p className="note">What was proven with the gear of now is open again then.</p>
    </section>
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

function RemoveLink({
  linkId,
  jobId,
  version,
  onClose,
}: {
  linkId: string;
  jobId: string;
  version: number;
  onClose(): void;
}) {
  const remove = useChange(routes.removeLink, { linkId }, `?version=${version}`);
  const navigate = useNavigate();
  return (
    <Modal opened onClose={onClose} title="Remove this link?">
      <RemovalWords route={routes.linkRemoval} params={{ linkId }} />
      <Problem error={remove.error} />
      <div className="row">
        <Button
          loading={remove.isPending}
          onClick={() => sendThen(remove, undefined, () => void navigate(`/jobs/${jobId}/timeline`))}
        >
          Remove it
        </Button>
        <Button variant="default" onClick={onClose}>
          Keep it
        </Button>
      </div>
    </Modal>
  );
}
