import { routes } from '@kivram/contract/routes';
import type { LinkView } from '@kivram/contract/views/link';
import type { GearOption } from '@kivram/core/budget/gearRanking';
import { ends, planOf, type End } from '@kivram/core/budget/plan';
import { tryPredict } from '@kivram/core/budget/prediction';
import { radarListenMin } from '@kivram/core/spectrum/ruleSet';
import { Button } from '@mantine/core';
import { lazy, Suspense, useMemo, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { Clash } from '../drafts/Clash';
import { useDraft } from '../drafts/useDraft';
import { useLinkContext } from '../link/LinkLayout';
import { numberIn, NumberField } from '../parts/NumberField';
import { Working } from '../parts/Only';
import { Problem } from '../parts/Problem';
import { RateField } from '../parts/RateField';
import { sendDraft, useAir, useChange, useMay, useModels } from '../queries';
import { AirChoices } from './AirChoices';
import { Doubts } from './Doubts';
import { Now } from './Now';
import {
  draftBody,
  draftChanged,
  draftErrors,
  draftOf,
  isTrying,
  modelFor,
  type DraftErrors,
  type PlanDraft,
} from './planDraft';
import { planOnAir } from './planOnAir';
import { triedVerdict } from './triedVerdict';
import './radio.css';

const UnlawfulDialog = lazy(async () => ({ default: (await import('../parts/UnlawfulDialog')).UnlawfulDialog }));
const PlanLook = lazy(async () => ({ default: (await import('./PlanLook')).PlanLook }));
const Gear = lazy(async () => ({ default: (await import('./Gear')).Gear }));
const Alternatives = lazy(async () => ({ default: (await import('./Alternatives')).Alternatives }));

const looks = [
  { value: 'plan', label: 'The plan' },
  { value: 'gear', label: 'Which gear?' },
  { value: 'compare', label: 'Side by side' },
];

/** The radio plan: what is chosen above, what follows from it below, recomputed as it is typed. */
export function RadioScreen() {
  const { view } = useLinkContext();
  const { link, air, near, far } = view;
  const [query, setQuery] = useSearchParams();
  const look = looks.find((l) => l.value === query.get('look'))?.value ?? 'plan';
  const may = useMay(link.jobId);
  const models = useModels().data;
  const kept = useDraft<PlanDraft>(
    `link/${link.id}/radio`,
    draftOf(view),
    [link, air, near.radio, far.radio].map((v) => v.version).join(),
  );
  const { set: setDraft } = kept;
  // A draft from before there was a field has what is stored there.
  const draft = useMemo(() => ({ ...draftOf(view), ...kept.value }), [view, kept.value]);
  const save = useChange(routes.changePlan, { linkId: link.id });
  const catalogue = useMemo(
    () => models ?? [near.model, ...(far.model.id === near.model.id ? [] : [far.model])],
    [models, near.model, far.model],
  );
  const onAir = useAir(link.id, view.sharers.length > 0).data;
  const tried = useMemo(() => {
    const { plan, ...together } = planOnAir(view, draft, catalogue, onAir);
    if (!plan)
      return {
        plan,
        dry: null,
        ...together,
        prediction: null,
        predictionError: 'Finish the marked fields: then the levels are computed.',
      };
    // A plan is made for a year, and shown in the rain that falls now.
    const dry = planOnAir(view, { ...draft, rainNowMmPerH: 0 }, catalogue, onAir);
    return { plan, dry, ...together, ...tryPredict(plan) };
  }, [view, draft, catalogue, onAir]);
  const { plan, prediction } = tried;
  const trying = isTrying(view, draft);
  const inPlace = useMemo(() => tryPredict(planOf(view)).prediction, [view]);
  const before = trying ? inPlace : null;
  const errors = draftErrors(view, draft);
  const set =
    <Key extends keyof PlanDraft>(key: Key) =>
    (value: PlanDraft[Key]): void =>
      setDraft((d) => ({ ...d, [key]: value }));
  const wantedDb = numberIn(draft.wantedMarginDb) || 0;
  const verdict = useMemo(() => {
    const plan = tried.dry?.plan;
    const prediction = plan && tryPredict(plan).prediction;
    return trying && prediction ? triedVerdict(view, plan, prediction, wantedDb, tried.dry?.air ?? null, onAir) : null;
  }, [tried, trying, view, wantedDb, onAir]);
  /** the draft that it was asked about: once it is saved, or another, the question is gone */
  const [asking, setAsking] = useState<PlanDraft | null>(null);
  const keep = (): void => sendDraft(save, draftBody(view, draft), kept.send());
  // Where others share the air, the station alone gets other gear.
  const onlyEnd: End | undefined = view.sharers.length ? (near.radio.role === 'station' ? 'near' : 'far') : undefined;
  const terms = useMemo(() => ({ wantedDb, onlyEnd }), [wantedDb, onlyEnd]);
  const tryGear = ({ model, channel, powerDbm }: GearOption): void => {
    const changed = onlyEnd ? [onlyEnd] : ends;
    setDraft((d) => ({
      ...d,
      ...Object.fromEntries(changed.map((end) => [`${end}ModelId`, model.id])),
      ...(powerDbm && Object.fromEntries(changed.map((end) => [`${end}ConductedDbm`, tenths(powerDbm[end])]))),
      ...(channel && !onlyEnd && air.kind !== 'duplex' && channel),
      protocol: model.protocols.includes(d.protocol) ? d.protocol : (model.protocols[0] ?? d.protocol),
    }));
    setQuery({});
  };

  return (
    <>
      <Sharers view={view} />
      <nav aria-label="What to look at" className="radio-looks">
        {looks.map(({ value, label }) => (
          <Link
            key={value}
            to={value === 'plan' ? '.' : `?look=${value}`}
            relative="path"
            aria-current={value === look ? 'page' : undefined}
          >
            {label}
          </Link>
        ))}
      </nav>
      <div className="row radio-plan">
        <AirChoices
          view={view}
          draft={draft}
          setDraft={setDraft}
          errors={errors}
          near={modelFor(near, draft.nearModelId, catalogue) ?? near.model}
          far={modelFor(far, draft.farModelId, catalogue) ?? far.model}
        />
        <Needs draft={draft} set={set} errors={errors} />
        <Working jobId={link.jobId}>
          <Button
            disabled={!draftChanged(view, draft) || kept.peeking || kept.stale || Object.keys(errors).length > 0}
            loading={save.isPending}
            onClick={() => (verdict?.broken ? setAsking(draft) : keep())}
            mt={24}
          >
            Save the plan
          </Button>
        </Working>
        {trying && (
          <Button variant="default" onClick={kept.drop} mt={24}>
            Back to what is saved
          </Button>
        )}
      </div>
      {asking === draft && verdict?.broken && (
        <Suspense>
          <UnlawfulDialog
            broken={[verdict.broken]}
            what="this plan"
            change={save}
            onKeep={keep}
            onClose={() => setAsking(null)}
          />
        </Suspense>
      )}
      <Doubts view={view} draft={draft} models={catalogue} set={set} />
      <Clash draft={kept} what="The plan" />
      <Problem error={save.error} />
      {!prediction && <Problem error={new Error(tried.predictionError ?? 'This plan cannot be computed.')} />}
      {prediction && look === 'plan' && <Now prediction={prediction} before={before} verdict={verdict} />}
      {prediction?.radarWatch && (
        <p className="caution">
          Radar channel: the radios listen{' '}
          {radarListenMin(view.law, prediction.near.channel) > 1
            ? 'up to ten minutes before they send, since weather radars are on it,'
            : 'a minute before they send,'}{' '}
          and leave the channel for half an hour when they see radar. Do not use it where the link must never drop.
        </p>
      )}
      <Suspense>
        {look === 'gear' && tried.dry?.plan && prediction && (
          <Gear
            view={view}
            plan={tried.dry.plan}
            models={catalogue}
            terms={terms}
            take={may.work ? tryGear : undefined}
          />
        )}
        {look === 'compare' && (
          <Alternatives
            view={view}
            draft={draft}
            models={catalogue}
            onAir={onAir}
            tryAgain={(next) => {
              setDraft(() => next);
              setQuery({});
            }}
            adopted={kept.drop}
          />
        )}
      </Suspense>
      {look === 'plan' && (
        <Suspense>
          <PlanLook
            view={view}
            draft={draft}
            set={set}
            errors={errors}
            models={catalogue}
            plan={plan}
            dryPlan={tried.dry?.plan ?? null}
            air={tried.air}
            sharers={tried.dry?.sharers ?? []}
            onAir={onAir}
            prediction={prediction}
            before={before}
            wantedDb={wantedDb}
            take={
              may.work
                ? (powers) => setDraft((d) => ({ ...d, nearConductedDbm: powers.near, farConductedDbm: powers.far }))
                : undefined
            }
          />
        </Suspense>
      )}
    </>
  );
}

const tenths = (dbm: number): number => Math.floor(10 * dbm + 1e-6) / 10;

/** What must cross, and with how much to spare. */
function Needs({
  draft,
  set,
  errors,
}: {
  draft: PlanDraft;
  set<Key extends keyof PlanDraft>(key: Key): (value: PlanDraft[Key]) => void;
  errors: DraftErrors;
}) {
  const rate = (key: 'needNearToFarMbps' | 'needFarToNearMbps', label: string) => (
    <RateField label={label} value={draft[key]} onChange={set(key)} error={errors[key]} w={160} />
  );
  return (
    <>
      {rate('needNearToFarMbps', 'Needed near to far')}
      {rate('needFarToNearMbps', 'Needed far to near')}
      <NumberField
        label="Margin asked for"
        value={draft.wantedMarginDb}
        onChange={set('wantedMarginDb')}
        unit="dB"
        error={errors.wantedMarginDb}
        w={160}
      />
    </>
  );
}

/** Who else is on this air: what is changed here changes there. */
function Sharers({ view: { air, sharers } }: { view: LinkView }) {
  if (!sharers.length) return null;
  return (
    <p className="caution">
      {air.kind === 'chain'
        ? 'A chain: one channel carries every hop in turn'
        : 'A hub: its stations share one channel'}
      . Channel, width and protocol hold for{' '}
      {sharers.map(({ id, name }, i) => (
        <span key={id}>
          {i > 0 && ', '}
          <Link to={`/links/${id}/radio`}>{name}</Link>
        </span>
      ))}{' '}
      too.
    </p>
  );
}
