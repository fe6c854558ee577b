import { HandTestBody } from '@kivram/contract/requests/test';
import { routes } from '@kivram/contract/routes';
import { check } from '@kivram/contract/validate';
import type { LinkView } from '@kivram/contract/views/link';
import { testLimits, type ThroughputTest } from '@kivram/contract/views/test';
import type { RunConditions } from '@kivram/core/throughput/run';
import { rateUnits, toMbps, unitConfusion, type RateUnit } from '@kivram/core/throughput/unit';
import { momentText } from '@kivram/core/units/moment';
import type { Direction } from '@kivram/core/verdict/throughputVerdict';
import { Button, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import { useDraft } from '../drafts/useDraft';
import { useLinkContext } from '../link/LinkLayout';
import { Figure } from '../parts/Figure';
import { numberIn, NumberField, type TypedNumber } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { Rate } from '../parts/Rate';
import { StateMark } from '../parts/StateMark';
import { useFiles } from '../parts/useFiles';
import { sendThen, useChange } from '../queries';
import { Working } from '../parts/Only';

const directions: { value: Direction; label: string }[] = [
  { value: 'nearToFar', label: 'near to far' },
  { value: 'farToNear', label: 'far to near' },
];

/** Proving: measured beside expected and needed, and what limits. */
export function ProveScreen() {
  const { view } = useLinkContext();
  return (
    <>
      <Measured view={view} />
      <Working jobId={view.link.jobId}>
        <div className="columns" style={{ marginTop: 28 }}>
          <FileTest view={view} />
          <HandTest view={view} />
        </div>
        {view.practice && <StandinTest view={view} />}
      </Working>
    </>
  );
}

function Measured({ view }: { view: LinkView }) {
  return (
    <div className="columns">
      {directions.map(({ value, label }) => {
        const tests = view.tests.filter((t) => t.direction === value);
        const need = value === 'nearToFar' ? view.link.needNearToFarMbps : view.link.needFarToNearMbps;
        const rates = [view.expected?.[value].aloneMbps, view.expected?.[value].bothMbps, need];
        return (
          <section key={value} aria-label={`Tests ${label}`}>
            <h2>
              <span className={value === 'nearToFar' ? 'near' : 'far'}>
                {value === 'nearToFar' ? view.near.place.name : view.far.place.name}
              </span>{' '}
              to{' '}
              <span className={value === 'nearToFar' ? 'far' : 'near'}>
                {value === 'nearToFar' ? view.far.place.name : view.near.place.name}
              </span>
            </h2>
            <p>
              <span className="soft">expected, alone</span> <Rate mbps={rates[0]} beside={rates} />{' '}
              <span className="soft">both ways loaded</span> <Rate mbps={rates[1]} beside={rates} />{' '}
              <span className="soft">needed</span> <Rate mbps={need} beside={rates} />
            </p>
            {!tests.length && <p>Not tested yet.</p>}
            <ul className="plain">
              {tests.map((test) => (
                <TestLine key={test.id} test={test} />
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}

const sourceWords = { iperf3: 'iperf3 file', standin: 'stand-in run', hand: 'read off by hand' };

/** What is worth saying of how a run was made. */
function conditionsText({ streams, targetMbps, omittedSeconds, busyShare }: RunConditions): string {
  return [
    streams > 1 ? `, ${streams} streams` : '',
    targetMbps === null ? '' : `, told to send ${Number(targetMbps.toPrecision(3))} Mbit/s`,
    omittedSeconds > 0 ? `, ${omittedSeconds.toFixed(0)} s left out` : '',
    busyShare !== null && busyShare > 0.5 ? `, computer ${(100 * busyShare).toFixed(0)} % busy` : '',
  ].join('');
}

function TestLine({ test }: { test: ThroughputTest }) {
  return (
    <li style={{ borderBottom: '1px solid var(--rule)', padding: '6px 0' }}>
      <div className="row" style={{ justifyContent: 'space-between' }}>
        <strong>{test.mbps < 1 ? <Rate mbps={test.mbps} /> : <Figure value={test.mbps} unit="Mbit/s" />}</strong>
        <StateMark state={test.verdict.state} because={test.verdict.headline} />
      </div>
      <div>{test.verdict.reason}</div>
      {test.warning && <div style={{ color: 'var(--thin)' }}>{test.warning}</div>}
      <div className="note">
        {momentText(test.at)}, {sourceWords[test.source]}
        {test.fileName && ` ${test.fileName}`}, {test.protocol}
        {test.seconds !== null && `, ${test.seconds.toFixed(test.seconds < 10 ? 1 : 0)} s`}
        {test.bothLoaded && ', both directions loaded'}
        {test.conditions && conditionsText(test.conditions)}
        {test.retransmits !== null && `, ${test.retransmits} retransmits`}
        {test.lossShare !== null && `, ${(100 * test.lossShare).toFixed(2)} % lost`}
        {test.jitterMs !== null && `, jitter ${test.jitterMs.toFixed(2)} ms`}
        {test.aborted && ', broken off'}
        {test.note && `, ${test.note}`}
      </div>
    </li>
  );
}

function FileTest({ view }: { view: LinkView }) {
  const [clientAt, setClientAt] = useState('near');
  const bring = useChange(routes.importTest, { linkId: view.link.id });
  const { drop, results } = useFiles({ ...testLimits, mend: 'Run a shorter test.' }, (file) =>
    bring.mutateAsync({ ...file, clientAt }),
  );
  return (
    <section>
      <h2>From a file of iperf3 -J</h2>
      <Select
        label="The iperf3 client ran at"
        data={[
          { value: 'near', label: `near, ${view.near.place.name}` },
          { value: 'far', label: `far, ${view.far.place.name}` },
        ]}
        value={clientAt}
        onChange={(v) => v && setClientAt(v)}
        allowDeselect={false}
        maw={320}
      />
      <div
        {...drop.getRootProps()}
        style={{ border: `2px solid ${drop.isDragActive ? 'var(--near)' : 'var(--rule)'}`, padding: 16, marginTop: 10 }}
        data-testid="iperf3-drop"
      >
        <input {...drop.getInputProps({ 'aria-label': 'iperf3 file' })} />
        <div className="row">
          <Button variant="default" onClick={drop.open} loading={bring.isPending}>
            Choose a file
          </Button>
          <span className="soft">or drop it here</span>
        </div>
      </div>
      {results.map(({ name, error }, i) =>
        error !== null ? (
          <Problem key={i} error={new Error(`${name}: ${error}`)} />
        ) : (
          <p key={i} role="status" style={{ margin: '6px 0' }}>
            {name} is read.
          </p>
        ),
      )}
      <p className="note">
        At one end <code>iperf3 -s</code>, at the other <code>iperf3 -c ADDRESS -J &gt; test.json</code>; add{' '}
        <code>-R</code> for the other direction.
      </p>
    </section>
  );
}

interface HandForm {
  direction: Direction;
  value: TypedNumber;
  unit: RateUnit | null;
  note: string;
}

const emptyHand: HandForm = { direction: 'nearToFar', value: null, unit: null, note: '' };

function HandTest({ view }: { view: LinkView }) {
  const draft = useDraft<HandForm>(`link/${view.link.id}/prove`, emptyHand, '');
  const { direction, value, unit, note } = draft.value;
  const set = (change: Partial<HandForm>): void => draft.set((d) => ({ ...d, ...change }));
  const add = useChange(routes.handTest, { linkId: view.link.id });
  const number = numberIn(value);
  const problem =
    value === null ? undefined : check(HandTestBody, { direction, value, unit: unit ?? 'Mbit/s', note }).errors?.[0];
  const ready = !Number.isNaN(number) && !problem && unit;
  const { expected } = view;
  const warning = ready && expected ? unitConfusion(number, unit, expected[direction].aloneMbps) : undefined;
  return (
    <section>
      <h2>Read off a screen</h2>
      <div className="row" style={{ alignItems: 'flex-start' }}>
        <Select
          label="Direction"
          data={directions}
          value={direction}
          onChange={(v) => v && set({ direction: v as Direction })}
          allowDeselect={false}
          w={140}
        />
        <NumberField
          label="Speed"
          value={value}
          onChange={(v) => set({ value: v })}
          error={typeof value === 'number' ? problem?.message : undefined}
          w={130}
        />
        <Select
          label="Unit"
          data={[...rateUnits]}
          value={unit}
          onChange={(v) => set({ unit: v as RateUnit | null })}
          placeholder="say which"
          w={130}
        />
      </div>
      <TextInput
        label="What ran where"
        value={note}
        onChange={(event) => set({ note: event.currentTarget.value })}
        placeholder="laptop by cable at the far end"
        mt={6}
        maxLength={200}
      />
      {ready && unit !== 'Mbit/s' && (
        <p>
          That is <Figure value={toMbps(number, unit)} unit="Mbit/s" />.
        </p>
      )}
      {warning && (
        <p className="caution" role="status">
          {warning}
        </p>
      )}
      <Button
        mt="sm"
        variant="default"
        disabled={!ready}
        loading={add.isPending}
        onClick={() =>
          sendThen(add, { direction, value, unit, note, at: new Date().toISOString() }, draft.drop, draft.drop)
        }
      >
        Note it
      </Button>
      {!unit && value !== null && <span className="note"> Say the unit: Mbit/s and MByte/s differ by 8.</span>}
      <Problem error={add.error} />
    </section>
  );
}

function StandinTest({ view }: { view: LinkView }) {
  const run = useChange(routes.standinTest, { linkId: view.link.id });
  return (
    <aside
      className="hands"
      aria-label="Stand-in: a throughput run"
      style={{ border: '2px dashed var(--soft)', padding: '10px 16px 12px', marginTop: 28 }}
    >
      <h2 style={{ borderBottom: 0 }}>Stand-in: a throughput run</h2>
      <p className="note">
        Runs ten simulated seconds over the stand-in radios as they are aimed now, and imports the result like a file.
      </p>
      <div className="row">
        {directions.map(({ value, label }) => (
          <Button
            key={value}
            variant="default"
            loading={run.isPending}
            onClick={() => run.mutate({ direction: value })}
          >
            Run {label}
          </Button>
        ))}
      </div>
      <Problem error={run.error} />
    </aside>
  );
}
