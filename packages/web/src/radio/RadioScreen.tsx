import { routes, type LinkView } from '@kivram/contract';
import {
  channelNumber,
  protocolWords,
  shareAir,
  tryPredict,
  usableCentresMHz,
  type Direction,
  type LinkPrediction,
} from '@kivram/core';
import { Button, Select, Switch } from '@mantine/core';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { Clash } from '../drafts/Clash';
import { useDraft } from '../drafts/useDraft';
import { useLinkContext } from '../link/LinkLayout';
import { widthText } from '../parts/channelText';
import { numberIn, NumberField } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { sendThen, useChange } from '../queries';
import { Choices } from './Choices';
import { Ledger } from './Ledger';
import { Levels } from './Levels';
import {
  draftBody,
  draftChanged,
  draftErrors,
  draftOf,
  draftPlan,
  type DraftErrors,
  type PlanDraft,
} from './planDraft';
import './radio.css';
import { Rates } from './Rates';
import { Working } from '../parts/Only';

/** The radio plan: what is chosen above, what follows from it below, recomputed as it is typed. */
export function RadioScreen() {
  const { view } = useLinkContext();
  const { link, air, near, far, law } = view;
  const kept = useDraft<PlanDraft>(
    `link/${link.id}/radio`,
    draftOf(view),
    [link, air, near.radio, far.radio].map((v) => v.version).join(),
  );
  const { value: draft, set: setDraft } = kept;
  const save = useChange(routes.changePlan, { linkId: link.id });
  const tried = useMemo(() => {
    const plan = draftPlan(view, draft);
    return plan
      ? tryPredict(plan)
      : { prediction: null, predictionError: 'Finish the marked fields: then the levels are computed.' };
  }, [view, draft]);
  const { prediction } = tried;
  const errors = draftErrors(view, draft);
  const licensed = air.kind === 'duplex';
  const set =
    <Key extends keyof PlanDraft>(key: Key) =>
    (value: PlanDraft[Key]): void =>
      setDraft((d) => ({ ...d, [key]: value }));
  const widths = near.model.widthsMHz.filter((w) => far.model.widthsMHz.includes(w));
  const centres = usableCentresMHz(near.model, far.model, law, draft.widthMHz);
  const spoken = near.model.protocols.filter((p) => far.model.protocols.includes(p));

  return (
    <>
      <Sharers view={view} />
      <div className="row radio-plan">
        <Select
          label={licensed ? 'Spacing' : 'Width'}
          value={String(draft.widthMHz)}
          data={widths.map((w) => ({ value: String(w), label: widthText(w) }))}
          onChange={(w) => {
            if (!w) return;
            const next = usableCentresMHz(near.model, far.model, law, Number(w));
            // A channel of another width lies on another raster: take the nearest.
            const centreMHz = next.reduce(
              (a, b) => (Math.abs(b - numberIn(draft.centreMHz)) < Math.abs(a - numberIn(draft.centreMHz)) ? b : a),
              next[0] ?? numberIn(draft.centreMHz),
            );
            setDraft((d) => ({ ...d, widthMHz: Number(w), centreMHz }));
          }}
          allowDeselect={false}
          w={130}
        />
        {licensed ? (
          <LicensedPair draft={draft} setDraft={setDraft} view={view} errors={errors} />
        ) : (
          <>
            <Select
              label="Channel"
              value={String(draft.centreMHz)}
              data={centres.map((c) => ({
                value: String(c),
                label: `${channelNumber({ centreMHz: c, widthMHz: draft.widthMHz })}, ${c} MHz`,
              }))}
              onChange={(value) => value && set('centreMHz')(Number(value))}
              allowDeselect={false}
              w={170}
              error={!centres.includes(numberIn(draft.centreMHz)) && 'not allowed here'}
            />
            <Select
              label="Protocol"
              value={draft.protocol}
              data={spoken.map((p) => ({ value: p, label: protocolWords[p] }))}
              onChange={(value) => value && set('protocol')(value as PlanDraft['protocol'])}
              allowDeselect={false}
              w={130}
            />
          </>
        )}
        <NumberField
          label="Needed near to far"
          value={draft.needNearToFarMbps}
          onChange={set('needNearToFarMbps')}
          unit="Mbit/s"
          error={errors.needNearToFarMbps}
          w={170}
        />
        <NumberField
          label="Needed far to near"
          value={draft.needFarToNearMbps}
          onChange={set('needFarToNearMbps')}
          unit="Mbit/s"
          error={errors.needFarToNearMbps}
          w={170}
        />
        <Working jobId={link.jobId}>
          <Button
            disabled={!kept.changed || kept.peeking || kept.stale || Object.keys(errors).length > 0}
            loading={save.isPending}
            onClick={() => sendThen(save, draftBody(view, draft), kept.drop)}
            mt={24}
          >
            Save the plan
          </Button>
        </Working>
        {kept.changed && (
          <Button variant="default" onClick={kept.drop} mt={24}>
            Back to what is saved
          </Button>
        )}
      </div>
      <Clash draft={kept} what="The plan" />
      <Problem error={save.error} />
      {!prediction && <Problem error={new Error(tried.predictionError ?? 'This plan cannot be computed.')} />}
      {prediction?.radarWatch && (
        <p className="caution">
          Radar channel: the radios listen a minute before they send, and leave the channel for half an hour when they
          see radar. Do not use it where the link must never drop.
        </p>
      )}
      <Choices draft={draft} set={set} errors={errors} view={view} />
      {prediction && <Levels prediction={prediction} view={view} />}
      {prediction && (
        <div className="columns" style={{ marginTop: 28 }}>
          <Ledger title={`What arrives at the near end, ${near.place.name}`} end="near" prediction={prediction.near} />
          <Ledger title={`What arrives at the far end, ${far.place.name}`} end="far" prediction={prediction.far} />
        </div>
      )}
      {prediction && (
        <div className="columns" style={{ marginTop: 28 }}>
          {(['nearToFar', 'farToNear'] as const).map((direction) => (
            <Rates
              key={direction}
              title={`Throughput ${direction === 'nearToFar' ? 'near to far' : 'far to near'}`}
              expectation={prediction[direction]}
              needMbps={numberIn(draft[needKeys[direction]]) || 0}
              left={leftFor(view, draft, prediction, direction)}
            />
          ))}
        </div>
      )}
    </>
  );
}

const needKeys = { nearToFar: 'needNearToFarMbps', farToNear: 'needFarToNearMbps' } as const;

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

/** Frequencies and coding of a licensed pair, as its licence has them. */
function LicensedPair({
  view: { near, far },
  draft,
  setDraft,
  errors,
}: {
  view: LinkView;
  draft: PlanDraft;
  setDraft(change: (draft: PlanDraft) => PlanDraft): void;
  errors: DraftErrors;
}) {
  const nearSends = near.radio.role === 'access' ? 'centreMHz' : 'returnMHz';
  const farSends = nearSends === 'centreMHz' ? 'returnMHz' : 'centreMHz';
  const frequency = (key: 'centreMHz' | 'returnMHz', place: string) => (
    <NumberField
      label={`${place} sends on`}
      value={draft[key]}
      onChange={(value) => setDraft((d) => ({ ...d, [key]: value }))}
      unit="MHz"
      error={errors[key]}
      w={180}
    />
  );
  return (
    <>
      {frequency(nearSends, near.place.name)}
      {frequency(farSends, far.place.name)}
      <Switch
        label="Error correction"
        checked={draft.errorCorrection}
        onChange={(event) => {
          const errorCorrection = event.currentTarget.checked;
          setDraft((d) => ({ ...d, errorCorrection }));
        }}
        mt={28}
      />
    </>
  );
}

/** What is left for a direction of the draft: the stored figure where others share the air, else what the other direction leaves. */
function leftFor(
  view: LinkView,
  draft: PlanDraft,
  prediction: LinkPrediction,
  direction: Direction,
): { mbps: number; words: string } {
  if (view.shared?.others && !draftChanged(view, draft)) {
    return { mbps: view.shared.mbps[direction], words: 'left while the others on this air take what they need' };
  }
  if (view.air.kind === 'duplex')
    return { mbps: prediction[direction].bothMbps, words: 'left with both directions loaded' };
  const member = (d: Direction) => ({
    aloneMbps: prediction[d].aloneMbps,
    needMbps: numberIn(draft[needKeys[d]]) || 0,
  });
  const other = direction === 'nearToFar' ? 'farToNear' : 'nearToFar';
  const [own] = shareAir([member(direction), member(other)]);
  return { mbps: own?.sharedMbps ?? 0, words: 'left while the other direction takes what it needs' };
}
