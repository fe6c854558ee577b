import { routes, type LinkPlanBody, type LinkView } from '@kivram/contract';
import {
  channelNumber,
  eirpLimitDbm,
  usableCentresMHz,
  type DirectionExpectation,
  type EndPrediction,
  type LinkPlan,
  type LinkPrediction,
} from '@kivram/core';
import { Button, NumberInput, Select } from '@mantine/core';
import { useMemo, useState } from 'react';
import { planOf, predict, useLinkContext } from '../link/LinkLayout';
import { Facing } from '../parts/Facing';
import { Figure, typeset } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { useChange } from '../queries';
import { useSettings } from '../settings';
import './radio.css';

type Draft = Required<Omit<LinkPlanBody, 'version' | 'crewMemberId' | 'shaftLeastM' | 'shaftMostM'>>;

/** The radio plan: what is chosen above, what follows from it below, recomputed as it is typed. */
export function RadioScreen() {
  const { view } = useLinkContext();
  return <RadioPlan key={view.link.version} view={view} />;
}

function RadioPlan({ view }: { view: LinkView }) {
  const { link, near, far, country } = view;
  const [draft, setDraft] = useState<Draft>(() => ({
    centreMHz: link.centreMHz,
    widthMHz: link.widthMHz,
    protocol: link.protocol,
    nearConductedDbm: link.nearConductedDbm,
    farConductedDbm: link.farConductedDbm,
    nearCableLossDb: link.nearCableLossDb,
    farCableLossDb: link.farCableLossDb,
    needNearToFarMbps: link.needNearToFarMbps,
    needFarToNearMbps: link.needFarToNearMbps,
  }));
  const { crewMemberId } = useSettings();
  const save = useChange(routes.changePlan, { linkId: link.id });
  const prediction = useMemo(() => predict(draftPlan(planOf(view), draft)), [view, draft]);
  const changed = (Object.keys(draft) as (keyof Draft)[]).some((key) => draft[key] !== link[key]);
  const set = (key: keyof Draft) => (value: number | string | null) => {
    if (value !== null && value !== '') setDraft((d) => ({ ...d, [key]: key === 'protocol' ? value : Number(value) }));
  };
  const widths = near.model.widthsMHz.filter((w) => far.model.widthsMHz.includes(w));
  const centres = usableCentresMHz(near.model, far.model, country, draft.widthMHz);
  const limitDbm = eirpLimitDbm(country, draft);

  return (
    <>
      <div className="row radio-plan">
        <Select
          label="Width"
          value={String(draft.widthMHz)}
          data={widths.map((w) => ({ value: String(w), label: `${w} MHz` }))}
          onChange={(w) => {
            if (!w) return;
            const next = usableCentresMHz(near.model, far.model, country, Number(w));
            // A channel of another width lies on another raster: take the nearest.
            const centreMHz = next.reduce(
              (a, b) => (Math.abs(b - draft.centreMHz) < Math.abs(a - draft.centreMHz) ? b : a),
              next[0] ?? draft.centreMHz,
            );
            setDraft((d) => ({ ...d, widthMHz: Number(w), centreMHz }));
          }}
          allowDeselect={false}
          w={120}
        />
        <Select
          label="Channel"
          value={String(draft.centreMHz)}
          data={centres.map((c) => ({
            value: String(c),
            label: `${channelNumber({ centreMHz: c, widthMHz: draft.widthMHz })}, ${c} MHz`,
          }))}
          onChange={set('centreMHz')}
          allowDeselect={false}
          w={170}
          error={!centres.includes(draft.centreMHz) && 'not allowed here'}
        />
        <Select
          label="Protocol"
          value={draft.protocol}
          data={['802.11', 'slots']}
          onChange={set('protocol')}
          allowDeselect={false}
          w={120}
        />
        <NumberInput
          label="Needed near to far"
          value={draft.needNearToFarMbps}
          onChange={set('needNearToFarMbps')}
          suffix=" Mbit/s"
          min={0}
          w={170}
        />
        <NumberInput
          label="Needed far to near"
          value={draft.needFarToNearMbps}
          onChange={set('needFarToNearMbps')}
          suffix=" Mbit/s"
          min={0}
          w={170}
        />
        <Button
          disabled={!changed}
          loading={save.isPending}
          onClick={() => save.mutate({ ...draft, version: link.version, crewMemberId })}
          mt={24}
        >
          Save the plan
        </Button>
      </div>
      <Problem error={save.error} />
      {prediction?.radarWatch && (
        <p className="caution">
          Radar channel: the radios listen a minute before they send, and leave the channel for half an hour when they
          see radar. Do not use it where the link must never drop.
        </p>
      )}
      {prediction && <Levels prediction={prediction} draft={draft} set={set} view={view} limitDbm={limitDbm} />}
      {prediction && (
        <div className="columns" style={{ marginTop: 28 }}>
          <Ledger title={`What arrives at the near end, ${near.place.name}`} end="near" prediction={prediction.near} />
          <Ledger title={`What arrives at the far end, ${far.place.name}`} end="far" prediction={prediction.far} />
        </div>
      )}
      {prediction && (
        <div className="columns" style={{ marginTop: 28 }}>
          <Rates title="Throughput near to far" expectation={prediction.nearToFar} needMbps={draft.needNearToFarMbps} />
          <Rates title="Throughput far to near" expectation={prediction.farToNear} needMbps={draft.needFarToNearMbps} />
        </div>
      )}
    </>
  );
}

interface LevelsProps {
  prediction: LinkPrediction;
  draft: Draft;
  set(key: keyof Draft): (value: number | string | null) => void;
  view: LinkView;
  limitDbm: number | undefined;
}

function Levels({ prediction, draft, set, view, limitDbm }: LevelsProps) {
  const ends = [view.near, view.far];
  const each = (of: (end: EndPrediction) => React.ReactNode) => ({
    near: of(prediction.near),
    far: of(prediction.far),
  });
  const input = (key: 'ConductedDbm' | 'CableLossDb', unit: string, label: string) => ({
    near: (
      <NumberInput
        aria-label={`${label} at the near end`}
        value={draft[`near${key}`]}
        onChange={set(`near${key}`)}
        suffix={` ${unit}`}
        w={130}
        size="sm"
      />
    ),
    far: (
      <NumberInput
        aria-label={`${label} at the far end`}
        value={draft[`far${key}`]}
        onChange={set(`far${key}`)}
        suffix={` ${unit}`}
        w={130}
        size="sm"
      />
    ),
  });
  const over = (e: EndPrediction): boolean => e.eirpLimitDbm !== undefined && e.eirpDbm > e.eirpLimitDbm + 0.05;
  return (
    <Facing
      near={`Near: ${view.near.model.maker} ${view.near.model.name}`}
      far={`Far: ${view.far.model.maker} ${view.far.model.name}`}
      rows={[
        { key: 'power', name: 'Conducted power', ...input('ConductedDbm', 'dBm', 'Conducted power') },
        { key: 'cable', name: 'Cable loss', ...input('CableLossDb', 'dB', 'Cable loss') },
        {
          key: 'eirp',
          name: `EIRP, limit ${limitDbm === undefined ? 'none: not allowed' : `${limitDbm} dBm`}`,
          ...each((e) => <Figure value={e.eirpDbm} unit="dBm" />),
          wrong: limitDbm === undefined || over(prediction.near) || over(prediction.far),
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
          ...each((e) =>
            e.step ? (
              <span className="figure">
                MCS {e.step.mcs}, {e.step.name}
              </span>
            ) : (
              'none'
            ),
          ),
        },
        { key: 'rate', name: 'Rate on air', ...each((e) => <Figure value={e.step?.phyRateMbps} unit="Mbit/s" />) },
        {
          key: 'port',
          name: 'Ethernet port',
          near: <Figure value={ends[0]?.model.ethernetMbps} unit="Mbit/s" digits={0} />,
          far: <Figure value={ends[1]?.model.ethernetMbps} unit="Mbit/s" digits={0} />,
        },
        { key: 'poe', name: 'Power over the cable', near: ends[0]?.model.poe, far: ends[1]?.model.poe },
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
}: {
  title: string;
  expectation: DirectionExpectation;
  needMbps: number;
}) {
  const enough = expectation.bothMbps >= needMbps;
  return (
    <section>
      <h2>{title}</h2>
      <table className="ruled">
        <tbody>
          {expectation.lines.map((line) => (
            <tr key={line.key}>
              <td>{line.label}</td>
              <td className="right">
                <Figure value={line.mbps} unit="Mbit/s" digits={0} />
              </td>
              <td className="note">{line.source}</td>
            </tr>
          ))}
          <tr className="radio-sum">
            <td>Needed</td>
            <td className="right">
              <Figure value={needMbps} unit="Mbit/s" digits={0} />
            </td>
            <td>{enough ? 'enough, also with both directions loaded' : 'not enough with both directions loaded'}</td>
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

function draftPlan(plan: LinkPlan, draft: Draft): LinkPlan {
  return {
    ...plan,
    centreMHz: draft.centreMHz,
    widthMHz: draft.widthMHz,
    protocol: draft.protocol,
    near: { ...plan.near, conductedDbm: draft.nearConductedDbm, cableLossDb: draft.nearCableLossDb },
    far: { ...plan.far, conductedDbm: draft.farConductedDbm, cableLossDb: draft.farCableLossDb },
  };
}
