import { routes } from '@kivram/contract/routes';
import type { CatalogueEntry } from '@kivram/contract/views/gear';
import type { Model } from '@kivram/core/gear/model';
import { checkSpec } from '@kivram/core/gear/plausible';
import { Button, Modal } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { Clash } from '../drafts/Clash';
import { useDraft, type Draft } from '../drafts/useDraft';
import { Problem } from '../parts/Problem';
import { Told } from '../parts/Told';
import { useKeys } from '../parts/useKeys';
import { sendDraft, sendThen, useCatalogue, useChange, useMay } from '../queries';
import { emptySpec, formOf, readSpec, type SpecForm } from './specForm';
import { specLines } from './CompareTable';
import { SpecFieldsets } from './SpecFieldsets';
import './catalogue.css';
import { Working } from '../parts/Only';

/** A spec sheet: a new one, from nothing or from another, or one of the catalogue to be changed. */
export function SpecScreen() {
  const { modelId } = useParams();
  const [query] = useSearchParams();
  const catalogue = useCatalogue();
  if (!catalogue.data)
    return catalogue.error ? <Problem error={catalogue.error} /> : <p className="soft">Reading the catalogue</p>;
  if (!modelId) {
    const from = catalogue.data.find((entry) => entry.spec.id === query.get('copy'));
    return <NewSpec key={query.get('copy') ?? ''} from={from?.spec ?? null} />;
  }
  const entry = catalogue.data.find(({ spec }) => spec.id === modelId);
  return entry ? (
    <ChangedSpec entry={entry} />
  ) : (
    <p>
      There is no such spec sheet in the catalogue. <Link to="/catalogue">Back to the catalogue</Link>
    </p>
  );
}

function NewSpec({ from }: { from: Model | null }) {
  const start = from ? { ...formOf(from), name: `${from.name} (copy)` } : emptySpec('VHT');
  const draft = useDraft<SpecForm>(`catalogue/new/${from?.id ?? ''}`, start, '');
  const create = useChange(routes.createModel, {}, '', ['models']);
  const navigate = useNavigate();
  return (
    <SpecEditor
      title={from ? `A spec sheet like ${from.maker} ${from.name}` : 'A new spec sheet'}
      draft={draft}
      error={create.error}
      pending={create.isPending}
      action="Put it into the catalogue"
      ready
      onSave={(spec) =>
        sendThen(create, { spec }, () => {
          draft.drop();
          void navigate('/catalogue');
        })
      }
    />
  );
}

function ChangedSpec({ entry }: { entry: CatalogueEntry }) {
  const { spec, revision, radios, older } = entry;
  const draft = useDraft<SpecForm>(`catalogue/${spec.id}`, formOf(spec), String(revision));
  const change = useChange(routes.changeModel, { modelId: spec.id }, '', ['models']);
  const retire = useChange(routes.retireModel, { modelId: spec.id }, '', ['models']);
  const [asking, { open, close }] = useDisclosure(false);
  const navigate = useNavigate();
  const may = useMay();
  if (may.onlyReads)
    return (
      <>
        <p className="note">
          <Link to="/catalogue" className="spec-back">
            Catalogue of gear
          </Link>
        </p>
        <h1>
          {spec.maker} {spec.name}
        </h1>
        <Told rows={specLines.map(([label, says]) => [label, says(spec)])} />
      </>
    );
  return (
    <>
      <SpecEditor
        title={`${spec.maker} ${spec.name}`}
        draft={draft}
        error={change.error}
        pending={change.isPending}
        action={`Save as revision ${revision + 1}`}
        ready={draft.changed}
        onSave={(fields) => sendDraft(change, { revision: Number(draft.base), spec: fields }, draft.send())}
      />
      <section style={{ marginTop: 28 }}>
        <h2>Who is planned with it</h2>
        <p>
          Revision {revision}. {radios === 0 ? 'No radio is planned with it.' : `${radios} radios are planned with it.`}{' '}
          Radios keep the revision that they were planned with; at each link, under Radio, they can follow a newer one.
        </p>
        {older.length > 0 && (
          <ul>
            {older.map(({ jobId, job, radios: count }) => (
              <li key={jobId}>
                <Link to={`/jobs/${jobId}`}>{job}</Link>: {count} with an older revision
              </li>
            ))}
          </ul>
        )}
        <Working>
          <div className="row">
            <Button
              component={Link}
              to={`/catalogue/new?copy=${encodeURIComponent(spec.id)}`}
              size="sm"
              variant="default"
            >
              Make another one like it
            </Button>
            <Button size="sm" variant="default" onClick={open}>
              Take it out of the catalogue
            </Button>
          </div>
        </Working>
      </section>
      <Modal opened={asking} onClose={close} title={`Take ${spec.name} out?`}>
        <p>
          It is no longer offered for new radios.{' '}
          {radios > 0 ? `The ${radios} radios that are planned with it keep it.` : 'No radio is planned with it.'} Read
          in from a file, it comes back.
        </p>
        <Problem error={retire.error} />
        <Button
          loading={retire.isPending}
          onClick={() => sendThen(retire, undefined, () => void navigate('/catalogue'))}
        >
          Take it out
        </Button>
      </Modal>
    </>
  );
}

interface EditorProps {
  title: string;
  draft: Draft<SpecForm>;
  error: unknown;
  pending: boolean;
  action: string;
  ready: boolean;
  onSave(spec: object): void;
}

function SpecEditor({ title, draft, error, pending, action, ready, onSave }: EditorProps) {
  const [tried, setTried] = useState(false);
  const form = draft.value;
  const { spec, typed, errors } = readSpec(form);
  const findings = checkSpec({ ...typed, id: 'typed' });
  const forbidden = findings.some((f) => f.severity === 'forbids');
  const change = (changes: Partial<SpecForm>): void => draft.set((before) => ({ ...before, ...changes }));
  const may = useMay();
  const submit = (): void => {
    if (!may.work) return;
    setTried(true);
    if (spec && !forbidden && ready && !draft.peeking) onSave(spec);
  };
  useKeys({ s: submit });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
      noValidate
    >
      <p className="note">
        <Link to="/catalogue" className="spec-back">
          Catalogue of gear
        </Link>
      </p>
      <h1>{title}</h1>
      <Clash draft={draft} what="This spec sheet" />
      <fieldset disabled={draft.peeking || !may.work} className="spec-fields">
        <SpecFieldsets form={form} errors={tried ? errors : {}} findings={findings} onChange={change} />
      </fieldset>
      {tried && (forbidden || Object.keys(errors).length > 0) && (
        <Problem error={new Error('Some fields above are not right yet; each says why.')} />
      )}
      <Problem error={error} />
      <Working>
        <div className="row" style={{ marginTop: 16 }}>
          <Button type="submit" size="lg" loading={pending} disabled={!ready || draft.peeking}>
            {action}
          </Button>
          {draft.changed && (
            <Button variant="default" onClick={draft.drop}>
              Give up the changes
            </Button>
          )}
        </div>
      </Working>
    </form>
  );
}
