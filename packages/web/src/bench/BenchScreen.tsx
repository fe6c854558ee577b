import { check, routes, SaveSheetsBody, type LinkEnd, type LinkView } from '@kivram/contract';
import { checkBench, type Finding, type PairingEnd, type Sheet } from '@kivram/core';
import { Button } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { call } from '../api';
import { useLinkContext } from '../link/LinkLayout';
import { Facing } from '../parts/Facing';
import { Problem } from '../parts/Problem';
import { StateShape } from '../parts/StateMark';
import { useKeys } from '../parts/useKeys';
import { useChange } from '../queries';
import { SheetField, sheetFields } from './sheetFields';
import './bench.css';

interface Pair {
  near: Sheet;
  far: Sheet;
}

/** The two settings sheets face to face, and whether they will pair. */
export function BenchScreen() {
  const { view } = useLinkContext();
  return <Bench key={`${view.near.sheet?.revision ?? 0} ${view.far.sheet?.revision ?? 0}`} view={view} />;
}

function Bench({ view }: { view: LinkView }) {
  const { near, far, link } = view;
  const saved = near.sheet && far.sheet ? { near: near.sheet.sheet, far: far.sheet.sheet } : null;
  const [draft, setDraft] = useState<Pair | null>(saved);
  const params = { linkId: link.id };
  const propose = useMutation({
    mutationFn: () => call(routes.proposeSheets, params),
    onSuccess: setDraft,
  });
  const save = useChange(routes.saveSheets, params);
  const tryOut = useChange(routes.runBench, params);
  const tell = useChange(routes.tellPairing, params);
  const body = draft && {
    ...draft,
    nearRevision: near.sheet?.revision ?? 0,
    farRevision: far.sheet?.revision ?? 0,
  };
  const errors = body ? (check(SaveSheetsBody, body).errors ?? []) : [];
  // What is not typed to its end is not judged yet.
  const judged = draft && !errors.length ? draft : null;
  const findings = useMemo(
    () =>
      judged
        ? checkBench(
            { near: pairingEnd(near, judged.near), far: pairingEnd(far, judged.far), law: view.laws },
            view.site,
            { air: view.air, country: view.country, near: near.radio, far: far.radio },
          )
        : [],
    [judged, near, far, view],
  );
  const changed = JSON.stringify(draft) !== JSON.stringify(saved);
  const canSave = !!draft && changed && !errors.length;
  const canTry = !!saved && !changed;
  useKeys({
    p: () => propose.mutate(),
    s: () => canSave && save.mutate(body),
    t: () => canTry && tryOut.mutate({}),
  });
  const set = (end: keyof Pair, change: Partial<Sheet>): void =>
    setDraft((d) => d && { ...d, [end]: { ...d[end], ...change } });

  return (
    <>
      <p className="caution">
        On the table: power down to 3 to 5 dBm, access point first and left on, one radio at a time (factory-new radios
        share one address). Never link and cable between the same two switches at once. A radio may take a minute to
        boot and three to save: do not pull the plug.
      </p>
      <div className="row" style={{ margin: '12px 0' }}>
        <Button onClick={() => propose.mutate()} loading={propose.isPending} variant={draft ? 'default' : 'filled'}>
          Propose both sheets
        </Button>
        <Button onClick={() => save.mutate(body)} disabled={!canSave} loading={save.isPending}>
          Save both sheets
        </Button>
        <Button
          onClick={() => tryOut.mutate({})}
          disabled={!canTry}
          loading={tryOut.isPending}
          variant="default"
          className="bench-standin"
        >
          Let the stand-in pair try
        </Button>
        <Button
          onClick={() => tell.mutate({ linked: true })}
          disabled={!canTry}
          loading={tell.isPending}
          variant="default"
        >
          The real radios paired
        </Button>
        {changed && draft && <span className="soft">not saved yet</span>}
      </div>
      <Problem error={propose.error ?? save.error ?? tryOut.error ?? tell.error} />
      {draft && <Verdict findings={findings} />}
      {tryOut.data && canTry && (
        <section className="bench-run" aria-label="What the stand-in radios did">
          <h2>
            Stand-in radios:{' '}
            {tryOut.data.linked
              ? 'paired, and the link carries the network'
              : tryOut.data.associated
                ? 'associated, but no link'
                : 'did not pair'}
          </h2>
          <ol className="plain">
            {tryOut.data.events.map((event, i) => (
              <li key={i}>
                <span className="figure soft">{event.atS.toFixed(1)} s</span> <strong>{event.who}</strong> {event.what}
              </li>
            ))}
          </ol>
        </section>
      )}
      {draft ? (
        <Facing
          near={`Near: ${near.place.name}`}
          far={`Far: ${far.place.name}`}
          air="must match = ≠ may differ"
          rows={sheetFields(draft, view.laws).map((field) => {
            const same = field.same(draft.near, draft.far);
            const finding = findings.find((f) => f.severity === 'blocks' && field.keys.includes(f.field));
            return {
              key: field.keys.join(),
              name: field.label,
              near: (
                <SheetField field={field} sheet={draft.near} end="near" set={(c) => set('near', c)} errors={errors} />
              ),
              far: <SheetField field={field} sheet={draft.far} end="far" set={(c) => set('far', c)} errors={errors} />,
              relation: same ? 'same' : 'differs',
              wrong: !!finding,
            };
          })}
        />
      ) : (
        <p>
          No settings yet. Kivram proposes names, free addresses outside the DHCP range and a strong passphrase; you
          change what you like.
        </p>
      )}
    </>
  );
}

function pairingEnd({ model, radio, otherStations }: LinkEnd, sheet: Sheet): PairingEnd {
  return { sheet, model, mac: radio.mac, otherStations };
}

/** Will they pair? Every reason why not, each with the values and the repair. */
function Verdict({ findings }: { findings: Finding[] }) {
  const blocks = findings.filter((f) => f.severity === 'blocks');
  return (
    <section aria-label="Will they pair?" aria-live="polite">
      <h2>
        Will they pair?{' '}
        <span style={{ verticalAlign: '-2px' }}>
          <StateShape state={blocks.length ? 'fails' : 'holds'} />
        </span>{' '}
        {blocks.length ? `No, for ${blocks.length} reason${blocks.length > 1 ? 's' : ''}` : 'Yes'}
      </h2>
      <ul className="plain">
        {findings.map((finding) => (
          <li key={finding.cause} className="bench-finding" data-cause={finding.cause}>
            <span className="bench-value near">{finding.nearValue}</span>
            <span>
              <strong style={{ color: finding.severity === 'blocks' ? 'var(--fails)' : 'var(--thin)' }}>
                {finding.reason}
              </strong>{' '}
              {finding.repair}
            </span>
            <span className="bench-value far">{finding.farValue}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
