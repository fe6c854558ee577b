import { routes, type LinkView } from '@kivram/contract';
import {
  channelNumber,
  poeWords,
  polarisations,
  polarisationWords,
  protocolWords,
  shareAir,
  tryPredict,
  usableCentresMHz,
  type Direction,
  type DirectionExpectation,
  type End,
  type EndPrediction,
  type LinkPrediction,
  type Polarisation,
} from '@kivram/core';
import { Button, Select, Switch } from '@mantine/core';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { Clash } from '../drafts/Clash';
import { useDraft } from '../drafts/useDraft';
import { useLinkContext } from '../link/LinkLayout';
import { widthText } from '../parts/channelText';
import { Facing } from '../parts/Facing';
import { Figure, typeset } from '../parts/Figure';
import { numberIn, NumberField, type TypedNumber } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { Rate } from '../parts/Rate';
import { sendThen, useChange } from '../queries';
import { draftBody, draftChanged, draftErrors, draftOf, draftPlan, type PlanDraft } from './planDraft';
import './radio.css';

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
        <Button
          disabled={!kept.changed || kept.peeking || kept.stale || Object.keys(errors).length > 0}
          loading={save.isPending}
          onClick={() => sendThen(save, draftBody(view, draft), kept.drop)}
          mt={24}
        >
          Save the plan
        </Button>
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
  errors: Errors;
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

type Errors = Partial<Record<keyof PlanDraft, string>>;

interface ChoicesProps {
  draft: PlanDraft;
  set<Key extends keyof PlanDraft>(key: Key): (value: PlanDraft[Key]) => void;
  errors: Errors;
  view: LinkView;
}

/** What is chosen for each radio; it stays where it is while nothing can be computed. */
function Choices({ draft, set, errors, view }: ChoicesProps) {
  const number = (side: End, key: 'ConductedDbm' | 'CableLossDb', unit: string, label: string) => (
    <NumberField
      aria-label={`${label} at the ${side} end`}
      value={draft[`${side}${key}`]}
      onChange={(value: TypedNumber) => set(`${side}${key}`)(value)}
      error={errors[`${side}${key}`]}
      unit={unit}
      w={130}
      size="sm"
    />
  );
  const both = (of: (side: End) => React.ReactNode) => ({ near: of('near'), far: of('far') });
  return (
    <Facing
      near={`Near: ${view.near.model.maker} ${view.near.model.name}`}
      far={`Far: ${view.far.model.maker} ${view.far.model.name}`}
      rows={[
        {
          key: 'power',
          name: 'Conducted power',
          ...both((side) => number(side, 'ConductedDbm', 'dBm', 'Conducted power')),
        },
        { key: 'cable', name: 'Cable loss', ...both((side) => number(side, 'CableLossDb', 'dB', 'Cable loss')) },
        {
          key: 'polarisation',
          name: 'Polarisation',
          ...both((side) => (
            <Select
              aria-label={`Polarisation at the ${side} end`}
              data={polarisationChoices}
              value={draft[`${side}Polarisation`]}
              onChange={(value) => value && set(`${side}Polarisation`)(value as Polarisation)}
              allowDeselect={false}
              w={150}
              size="sm"
            />
          )),
          rule: 'match',
          broken: draft.nearPolarisation !== draft.farPolarisation,
        },
      ]}
    />
  );
}

const polarisationChoices = polarisations.map((value) => ({ value, label: polarisationWords[value] }));

function Levels({ prediction, view }: { prediction: LinkPrediction; view: LinkView }) {
  const limits = { near: prediction.near.eirpLimitDbm, far: prediction.far.eirpLimitDbm };
  const limitDbm = limits.near;
  const ends = [view.near, view.far];
  const each = (of: (end: EndPrediction) => React.ReactNode) => ({
    near: of(prediction.near),
    far: of(prediction.far),
  });
  const over = (e: EndPrediction): boolean => e.eirpLimitDbm !== undefined && e.eirpDbm > e.eirpLimitDbm + 0.05;
  return (
    <Facing
      near="Near end"
      far="Far end"
      air="what follows"
      rows={[
        {
          key: 'eirp',
          name: `EIRP, limit ${limitDbm === undefined ? 'none: not allowed' : `${limitDbm} dBm`}`,
          ...each((e) => <Figure value={e.eirpDbm} unit="dBm" />),
          broken: limitDbm === undefined || over(prediction.near) || over(prediction.far),
        },
        { key: 'level', name: <strong>Level expected</strong>, ...each((e) => <LevelFigure end={e} />) },
        { key: 'noise', name: 'Noise', ...each((e) => <Figure value={e.noiseDbm} unit="dBm" />) },
        {
          key: 'margin',
          name: 'Margin before it drops',
          ...each((e) => <Figure value={e.marginDb} unit="dB" signed />),
        },
        {
          key: 'mcs',
          name: 'Modulation',
          ...each((e) => (e.step ? <span className="figure">{e.step.name}</span> : 'none')),
        },
        { key: 'rate', name: 'Rate on air', ...each((e) => <Rate mbps={e.step?.phyRateMbps} />) },
        {
          key: 'port',
          name: 'Ethernet port',
          near: <Figure value={ends[0]?.model.ethernetMbps} unit="Mbit/s" digits={0} />,
          far: <Figure value={ends[1]?.model.ethernetMbps} unit="Mbit/s" digits={0} />,
        },
        {
          key: 'poe',
          name: 'Power over the cable',
          near: ends[0] && poeWords[ends[0].model.poe],
          far: ends[1] && poeWords[ends[1].model.poe],
        },
      ]}
    />
  );
}

function LevelFigure({ end }: { end: EndPrediction }) {
  return (
    <strong>
      <Figure value={end.rslDbm} unit="dBm" />
      {end.overloaded && <span style={{ color: 'var(--fails)' }}> overloads the receiver</span>}
    </strong>
  );
}

/** Gains and losses, line by line, with the running level. */
function Ledger({ title, end, prediction }: { title: string; end: 'near' | 'far'; prediction: EndPrediction }) {
  return (
    <section>
      <h2 className={end}>{title}</h2>
      <table className="ruled">
        <thead>
          <tr>
            <th>Line</th>
            <th className="right">Change</th>
            <th className="right">Level</th>
            <th>From</th>
          </tr>
        </thead>
        <tbody>
          {prediction.ledger.map((line) => (
            <tr key={line.key} className={line.kind === 'level' ? 'radio-sum' : ''}>
              <td>{line.label}</td>
              <td className="right figure">{line.kind === 'change' ? `${typeset(line.value, 1, true)} dB` : ''}</td>
              <td className="right figure">{typeset(line.runningDbm, 1)} dBm</td>
              <td className="note">{line.source}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Rates({
  title,
  expectation,
  needMbps,
  left,
}: {
  title: string;
  expectation: DirectionExpectation;
  needMbps: number;
  left: { mbps: number; words: string };
}) {
  return (
    <section>
      <h2>{title}</h2>
      <table className="ruled">
        <tbody>
          {expectation.lines.map((line) => (
            <tr key={line.key}>
              <td>{line.label}</td>
              <td className="right">
                <Rate mbps={line.mbps} />
              </td>
              <td className="note">{line.source}</td>
            </tr>
          ))}
          <tr>
            <td>What is left</td>
            <td className="right">
              <Rate mbps={left.mbps} />
            </td>
            <td className="note">{left.words}</td>
          </tr>
          <tr className="radio-sum">
            <td>Needed</td>
            <td className="right">
              <Rate mbps={needMbps} />
            </td>
            <td>{left.mbps >= needMbps ? 'enough' : 'not enough'}</td>
          </tr>
        </tbody>
      </table>
      <p className="note">
        {expectation.limitedBy === 'nolink'
          ? 'No step of modulation is reached: no throughput.'
          : expectation.limitedBy === 'ethernet'
            ? 'The Ethernet port is the limit, not the radio.'
            : 'The radio is the limit.'}
      </p>
    </section>
  );
}
