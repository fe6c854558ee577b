import { routes } from '@kivram/contract/routes';
import { SaveSheetsBody } from '@kivram/contract/sheet';
import { check } from '@kivram/contract/validate';
import type { LinkEnd } from '@kivram/contract/views/link';
import type { End } from '@kivram/core/budget/plan';
import { checkBench } from '@kivram/core/pairing/check';
import { readHidden } from '@kivram/core/pairing/hiddenPassphrase';
import type { Finding, PairingEnd } from '@kivram/core/pairing/pair';
import type { Sheet } from '@kivram/core/pairing/sheet';
import type { RuleSet } from '@kivram/core/spectrum/ruleSet';
import { withMinus } from '@kivram/core/units/number';
import { Button } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { lazy, Suspense, useMemo, useState } from 'react';
import { call } from '../api';
import { Clash } from '../drafts/Clash';
import { useDraft } from '../drafts/useDraft';
import { useLinkContext } from '../link/LinkLayout';
import { Facing } from '../parts/Facing';
import { Problem } from '../parts/Problem';
import { StateShape } from '../parts/StateMark';
import { useKeys } from '../parts/useKeys';
import { sendDraft, useChange, useMay, useRuleSet, useRuleSets } from '../queries';
import { useReveal, type Reveal } from './useReveal';
import { Logins } from './Logins';
import { OnTheTable } from './OnTheTable';
import { OutOfTheBox } from './OutOfTheBox';
import { ruleBroken, SheetField, sheetFields } from './sheetFields';
import './bench.css';
import { Working } from '../parts/Only';

const Review = lazy(async () => ({ default: (await import('./Review')).Review }));

export interface SheetPair {
  near: Sheet;
  far: Sheet;
}

/** All laws that two sheets are to be judged by: those at hand, and of countries that are being tried. */
function useLaws(known: readonly RuleSet[], sheets: SheetPair | null): readonly RuleSet[] {
  const missing = (end: End): string | undefined => {
    const country = sheets?.[end].country;
    return known.some((law) => law.country === country) ? undefined : country;
  };
  const near = useRuleSet(missing('near')).data;
  const far = useRuleSet(missing('far')).data;
  return useMemo(() => [...known, ...[near, far].flatMap((law) => law ?? [])], [known, near, far]);
}

/** The two settings sheets face to face, and whether they will pair. */
export function BenchScreen() {
  const { view } = useLinkContext();
  const { near, far, link, air, country } = view;
  const saved = useMemo(
    () => (near.sheet && far.sheet ? { near: near.sheet.sheet, far: far.sheet.sheet } : null),
    [near.sheet, far.sheet],
  );
  const revisions = { nearRevision: near.sheet?.revision ?? 0, farRevision: far.sheet?.revision ?? 0 };
  const draft = useDraft<SheetPair | null>(`link/${link.id}/bench`, saved, Object.values(revisions).join());
  const sheets = draft.value;
  const laws = useLaws(view.laws, sheets);
  const countries = useRuleSets().data ?? view.laws;
  const [reviewing, setReviewing] = useState(false);
  const may = useMay(link.jobId);
  const params = { linkId: link.id };
  const reveal = useReveal(view);
  const propose = useMutation({
    mutationFn: () => call(routes.proposeSheets, params),
    onSuccess: (pair) => draft.set(() => pair),
  });
  const save = useChange(routes.saveSheets, params);
  const tryOut = useChange(routes.runBench, params);
  const tell = useChange(routes.tellPairing, params);
  const body = sheets && { ...sheets, ...revisions };
  const errors = body ? (check(SaveSheetsBody, body).errors ?? []) : [];
  // What is not typed to its end is not judged yet.
  const known = useMemo(() => sheets && writtenOut(sheets, reveal), [sheets, reveal.shown]); // oxlint-disable-line react/exhaustive-deps -- of it only what it shows
  const judged = errors.length ? null : known;
  const findings = useMemo(
    () =>
      judged
        ? checkBench({ near: pairingEnd(near, judged.near), far: pairingEnd(far, judged.far), law: laws }, view.site, {
            air,
            country,
            licence: view.licence,
            day: view.day,
            outdoor: link.pathKind !== 'shaft',
            near: near.radio,
            far: far.radio,
          })
        : [],
    [judged, near, far, air, country, view, laws, link.pathKind],
  );
  const canSave = draft.changed && !draft.stale && !draft.peeking && !errors.length;
  const canTry = !!saved && !draft.changed;
  // What radios are set to is never replaced unasked: first what changes is shown.
  const askToSave = (): void => {
    if (!canSave || !may.work) return;
    if (saved) setReviewing(true);
    else send();
  };
  const send = (): void => {
    setReviewing(false);
    sendDraft(save, body, draft.send());
  };
  useKeys({
    p: () => may.work && !saved && propose.mutate(),
    s: askToSave,
    t: () => may.work && canTry && tryOut.mutate({}),
  });
  const set = (end: keyof SheetPair, change: Partial<Sheet>): void =>
    draft.set((d) => d && { ...d, [end]: { ...d[end], ...change } });

  return (
    <>
      <OnTheTable view={view} />
      <Working jobId={link.jobId}>
        <div className="row" style={{ margin: '12px 0' }}>
          <Button onClick={() => propose.mutate()} loading={propose.isPending} variant={sheets ? 'default' : 'filled'}>
            {saved ? 'Propose both sheets anew' : 'Propose both sheets'}
          </Button>
          <Button onClick={askToSave} disabled={!canSave} loading={save.isPending}>
            Save both sheets
          </Button>
          {draft.changed && saved && (
            <Button variant="default" onClick={draft.drop}>
              Back to what is saved
            </Button>
          )}
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
          {draft.changed && <span className="soft">not saved yet</span>}
        </div>
      </Working>
      <OutOfTheBox near={near} far={far} />
      <Problem error={propose.error ?? save.error ?? tryOut.error ?? tell.error ?? reveal.error} />
      <Clash draft={draft} what="The settings" />
      {saved && sheets && reviewing && (
        <Suspense fallback={null}>
          <Review
            before={saved}
            after={sheets}
            names={{ near: near.place.name, far: far.place.name }}
            onSave={send}
            onClose={() => setReviewing(false)}
          />
        </Suspense>
      )}
      {sheets && <Verdict findings={findings} unfinished={errors.length} />}
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
      {sheets ? (
        <Facing
          near={`Near: ${near.place.name}`}
          far={`Far: ${far.place.name}`}
          air="= must match, ≠ must differ"
          rows={sheetFields(sheets, view, countries).map((field) => {
            const finding = findings.find((f) => f.severity !== 'warns' && f.field === field.key);
            return {
              key: field.key,
              name: field.label,
              near: (
                <SheetField
                  field={field}
                  sheet={sheets.near}
                  end="near"
                  set={(c) => set('near', c)}
                  errors={errors}
                  reveal={reveal}
                />
              ),
              far: (
                <SheetField
                  field={field}
                  sheet={sheets.far}
                  end="far"
                  set={(c) => set('far', c)}
                  errors={errors}
                  reveal={reveal}
                />
              ),
              rule: field.rule,
              broken: ruleBroken(field, known ?? sheets),
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
      <Logins view={view} reveal={reveal} />
    </>
  );
}

/** Both sheets with their passphrases where these are shown: one that was typed can then be compared. */
function writtenOut(sheets: SheetPair, { shown }: Reveal): SheetPair {
  if (!shown) return sheets;
  const of = (end: End): Sheet =>
    readHidden(sheets[end].passphrase) ? { ...sheets[end], passphrase: shown[end].passphrase } : sheets[end];
  return { near: of('near'), far: of('far') };
}

function pairingEnd({ model, radio, otherStations }: LinkEnd, sheet: Sheet): PairingEnd {
  return { sheet, model, mac: radio.mac, otherStations };
}

const findingColours: Record<Finding['severity'], string> = {
  blocks: 'var(--fails)',
  forbids: 'var(--fails)',
  warns: 'var(--thin)',
};

/** Will they pair? Every reason why not, or why they must not go up so, each with the values and the repair. */
function Verdict({ findings, unfinished }: { findings: Finding[]; unfinished: number }) {
  const blocks = findings.filter((f) => f.severity === 'blocks').length;
  const forbidden = findings.filter((f) => f.severity === 'forbids').length;
  const reasons = (count: number): string => `${count} reason${count > 1 ? 's' : ''}`;
  const words = unfinished
    ? `Not judged until the ${unfinished > 1 ? `${unfinished} marked fields are` : 'marked field is'} right`
    : blocks
      ? `No, for ${reasons(blocks)}`
      : forbidden
        ? `Yes, but they must not go up so, for ${reasons(forbidden)}`
        : 'Yes';
  return (
    <section aria-label="Will they pair?" aria-live="polite">
      <h2>
        Will they pair?{' '}
        <span style={{ verticalAlign: '-2px' }}>
          <StateShape state={unfinished ? 'open' : blocks || forbidden ? 'fails' : 'holds'} />
        </span>{' '}
        {words}
      </h2>
      <ul className="plain">
        {findings.map((finding) => (
          <li key={finding.cause} className="bench-finding" data-cause={finding.cause}>
            <span className="bench-value near">{withMinus(finding.nearValue)}</span>
            <span>
              <strong style={{ color: findingColours[finding.severity] }}>{withMinus(finding.reason)}</strong>{' '}
              {finding.repair}
            </span>
            <span className="bench-value far">{withMinus(finding.farValue)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
