import { routes, type LinksOnAirView, type Alternative, type LinkView } from '@kivram/contract';
import {
  channelNumber,
  ends,
  tryPredict,
  type LedgerLine,
  type LinkPlan,
  type LinkPrediction,
  type Model,
  type Price,
} from '@kivram/core';
import { Button, TextInput } from '@mantine/core';
import { useMemo, useState, type ReactNode } from 'react';
import { widthText } from '../parts/channelText';
import { Figure, typeset } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { Rate } from '../parts/Rate';
import { Tick } from '../parts/Tick';
import { sendThen, useChange, useMay } from '../queries';
import { choicesOf, draftWith } from './planChoices';
import { draftBody, draftChanged, draftErrors, draftOf, isTrying, type PlanDraft } from './planDraft';
import { planOnAir } from './planOnAir';
import { shortTime } from './shortTime';

/** Columns that can be told apart. */
const mostColumns = 4;

interface Column {
  key: string;
  name: string;
  draft: PlanDraft;
  plan: LinkPlan | null;
  prediction: LinkPrediction | null;
  kept: Alternative | null;
}

/** Plans side by side: the one in place, the one that is being tried, and those that were kept; any of them can become the plan. */
export function Alternatives({
  view,
  draft,
  models,
  onAir,
  tryAgain,
  adopted,
}: {
  view: LinkView;
  draft: PlanDraft;
  models: readonly Model[];
  /** read where the air is shared */
  onAir: LinksOnAirView | undefined;
  tryAgain(draft: PlanDraft): void;
  adopted(): void;
}) {
  const may = useMay(view.link.jobId);
  const trying = isTrying(view, draft);
  const all = useMemo((): Column[] => {
    const column = (key: string, name: string, of: PlanDraft, kept: Alternative | null): Column => {
      const { plan } = planOnAir(view, of, models, onAir);
      return { key, name, draft: of, plan, prediction: plan && tryPredict(plan).prediction, kept };
    };
    return [
      column('place', 'The plan in place', draftOf(view), null),
      ...(trying ? [column('tried', 'What is being tried', draft, null)] : []),
      ...view.alternatives.map((kept) => column(kept.id, kept.name, draftWith(view, kept.choices), kept)),
    ];
  }, [view, draft, models, onAir, trying]);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const shown = all.filter(({ key }) => !hidden.has(key)).slice(0, mostColumns);
  const left = all.filter((column) => !shown.includes(column));
  const toggle = (key: string): void => {
    const next = new Set(hidden);
    if (shown.some((column) => column.key === key)) next.add(key);
    else {
      next.delete(key);
      // Room for it: the last of those that are shown goes.
      const last = shown.at(-1);
      if (shown.length === mostColumns && last) next.add(last.key);
    }
    setHidden(next);
  };
  return (
    <section>
      <h2>Side by side</h2>
      {may.work && trying && <KeepForm view={view} draft={draft} />}
      {all.length === 1 && (
        <p>
          Nothing is kept yet. Change something under “The plan” or take gear from the ranking, then keep it here under
          a name.
        </p>
      )}
      {all.length > 1 && (
        <fieldset className="row alternatives-choice">
          <legend>Shown, up to {mostColumns}</legend>
          {all.map(({ key, name }) => (
            <Tick key={key} label={name} checked={shown.some((column) => column.key === key)} set={() => toggle(key)} />
          ))}
          {left.length > 0 && <span className="note">{left.length} not shown</span>}
        </fieldset>
      )}
      <div className="scroll" tabIndex={0} role="region" aria-label="Plans side by side">
        <Comparison columns={shown} place={all[0] ?? null} />
      </div>
      {may.work && (
        <div className="row">
          {shown
            .filter(({ kept }) => kept)
            .map((column) => (
              <KeptActions key={column.key} view={view} column={column} tryAgain={tryAgain} adopted={adopted} />
            ))}
        </div>
      )}
    </section>
  );
}

function KeepForm({ view, draft }: { view: LinkView; draft: PlanDraft }) {
  const [name, setName] = useState('');
  const keep = useChange(routes.keepAlternative, { linkId: view.link.id });
  const known = view.alternatives.some((kept) => kept.name.toLowerCase() === name.trim().toLowerCase());
  return (
    <form
      className="row alternatives-keep"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) sendThen(keep, { name: name.trim(), choices: choicesOf(draft) }, () => setName(''));
      }}
    >
      <TextInput
        label="Keep what is being tried as"
        placeholder="40 MHz, small antennas"
        maxLength={60}
        value={name}
        onChange={(event) => setName(event.currentTarget.value)}
        w={300}
      />
      <Button type="submit" disabled={!name.trim()} loading={keep.isPending} mt={24}>
        {known ? 'Replace it' : 'Keep it'}
      </Button>
      <Problem error={keep.error} />
    </form>
  );
}

/** What can be done with a kept plan. */
function KeptActions({
  view,
  column: { name, draft, kept, prediction },
  tryAgain,
  adopted,
}: {
  view: LinkView;
  column: Column;
  tryAgain(draft: PlanDraft): void;
  adopted(): void;
}) {
  const adopt = useChange(routes.changePlan, { linkId: view.link.id });
  const remove = useChange(
    routes.removeAlternative,
    { alternativeId: kept?.id ?? '' },
    `?version=${kept?.version ?? 0}`,
  );
  const wrong = Object.values(draftErrors(view, draft))[0];
  return (
    <div className="alternatives-actions">
      <strong>{name}</strong>
      <div className="row">
        <Button
          size="compact-md"
          disabled={!prediction || !draftChanged(view, draft) || !!wrong}
          loading={adopt.isPending}
          onClick={() => sendThen(adopt, draftBody(view, draft), adopted)}
        >
          Make it the plan
        </Button>
        <Button size="compact-md" variant="default" onClick={() => tryAgain(draft)}>
          Go on with it
        </Button>
        <Button
          size="compact-md"
          variant="subtle"
          color="red"
          loading={remove.isPending}
          onClick={() => remove.mutate(undefined)}
        >
          Throw away
        </Button>
      </div>
      <Problem error={adopt.error ?? remove.error} />
    </div>
  );
}

interface Line {
  name: string;
  of(column: Column): ReactNode;
  /** what it is made of, to be opened */
  ledger?(column: Column): readonly LedgerLine[];
  /** what differs from the plan in place, where it is a figure */
  value?(column: Column): number | null;
  unit?: string;
}

const lines: Line[] = [
  {
    name: 'Gear, near and far',
    of: ({ plan }) =>
      plan ? (
        <>
          {plan.near.model.name}
          {plan.far.model.id !== plan.near.model.id && <>, {plan.far.model.name}</>}
        </>
      ) : (
        'not in the catalogue, or not finished'
      ),
  },
  {
    name: 'Channel',
    of: ({ plan }) =>
      plan &&
      (plan.air.kind === 'duplex'
        ? `${plan.air.centreMHz} and ${plan.air.returnMHz ?? '–'} MHz`
        : `${channelNumber(plan.air)}, ${plan.air.centreMHz} MHz`),
  },
  { name: 'Width', of: ({ plan }) => plan && widthText(plan.air.widthMHz) },
  ...ends.map((end): Line => ({
    name: `Power, ${end} end`,
    of: ({ plan }) => <Figure value={plan?.[end].conductedDbm} unit="dBm" />,
    value: ({ plan }) => plan?.[end].conductedDbm ?? null,
    unit: 'dB',
  })),
  ...ends.map((end): Line => ({
    name: `Level, ${end} end`,
    of: ({ prediction }) => <Figure value={prediction?.[end].rslDbm} unit="dBm" />,
    value: ({ prediction }) => prediction?.[end].rslDbm ?? null,
    unit: 'dB',
    ledger: ({ prediction }) => prediction?.[end].ledger ?? [],
  })),
  {
    name: 'Under the legal limit',
    of: ({ prediction }) => <Figure value={prediction && lawRoomDb(prediction)} unit="dB" signed />,
    value: ({ prediction }) => prediction && lawRoomDb(prediction),
    unit: 'dB',
  },
  {
    name: 'TCP near to far',
    of: ({ prediction }) => <Rate mbps={prediction?.nearToFar.aloneMbps} />,
    value: ({ prediction }) => prediction?.nearToFar.aloneMbps ?? null,
    unit: 'Mbit/s',
  },
  {
    name: 'TCP far to near',
    of: ({ prediction }) => <Rate mbps={prediction?.farToNear.aloneMbps} />,
    value: ({ prediction }) => prediction?.farToNear.aloneMbps ?? null,
    unit: 'Mbit/s',
  },
  {
    name: 'Levels may fade by',
    of: ({ prediction }) =>
      prediction?.need && Number.isFinite(prediction.need.fadeDb) ? (
        <Figure value={prediction.need.fadeDb} unit="dB" />
      ) : (
        'the need does not cross'
      ),
    value: ({ prediction }) => prediction?.need?.fadeDb ?? null,
    unit: 'dB',
  },
  {
    name: 'Need not met, a year',
    of: ({ prediction }) => (prediction?.need ? shortTime(prediction.need.below.totalMin) : '–'),
  },
  { name: 'Both radios cost', of: ({ plan }) => priceText(plan) },
  { name: 'Both draw', of: ({ plan }) => wattsText(plan) },
];

/** How far the louder end stays under its limit; NaN where there is none. */
function lawRoomDb({ near, far }: LinkPrediction): number {
  return Math.min(...[near, far].map(({ eirpDbm, eirpLimitDbm }) => (eirpLimitDbm ?? NaN) - eirpDbm));
}

function priceText(plan: LinkPlan | null): string {
  const prices = plan ? [plan.near.model.price, plan.far.model.price] : [];
  const known = prices.filter((p): p is Price => p !== undefined);
  const [first] = known;
  if (!first || known.length < 2 || known.some((p) => p.currency !== first.currency)) return 'not known';
  return `${known.reduce((sum, p) => sum + p.amount, 0)} ${first.currency}`;
}

function wattsText(plan: LinkPlan | null): string {
  const watts = plan ? [plan.near.model.poeWatts, plan.far.model.poeWatts] : [];
  return watts.length && watts.every((w) => w !== undefined)
    ? `${typeset(
        watts.reduce((sum: number, w) => sum + (w ?? 0), 0),
        1,
      )} W`
    : 'not known';
}

function Comparison({ columns, place }: { columns: readonly Column[]; place: Column | null }) {
  return (
    <table className="ruled alternatives-table">
      <thead>
        <tr>
          <th>
            <span className="visually-hidden">What</span>
          </th>
          {columns.map(({ key, name }) => (
            <th key={key}>{name}</th>
          ))}
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <ComparedLine key={line.name} line={line} columns={columns} place={place} />
        ))}
      </tbody>
    </table>
  );
}

function ComparedLine({ line, columns, place }: { line: Line; columns: readonly Column[]; place: Column | null }) {
  const [open, setOpen] = useState(false);
  const row = (shown: Line, className: string, name: ReactNode) => (
    <tr key={shown.name} className={className}>
      <th scope="row">{name}</th>
      {columns.map((column) => (
        <td key={column.key}>
          {shown.of(column)}
          {column !== place && place && <Against line={shown} column={column} place={place} />}
        </td>
      ))}
    </tr>
  );
  if (!line.ledger) return row(line, '', line.name);
  return (
    <>
      {row(
        line,
        '',
        <button type="button" className="ledger-line" aria-expanded={open} onClick={() => setOpen(!open)}>
          {line.name}
        </button>,
      )}
      {open && ledgerLines(line, columns).map((term) => row(term, 'alternatives-term', term.name))}
    </>
  );
}

/** The lines of a ledger as lines of the comparison: all that any of the plans has. */
function ledgerLines({ ledger }: Line, columns: readonly Column[]): Line[] {
  const named = new Map<string, string>();
  for (const column of columns)
    for (const { key, label, kind } of ledger?.(column) ?? []) if (kind === 'change') named.set(key, label);
  return [...named].map(([key, label]): Line => {
    const value = (column: Column): number | null => ledger?.(column).find((l) => l.key === key)?.value ?? null;
    return {
      name: label,
      of: (column) => <Figure value={value(column)} unit="dB" signed />,
      value: (column) => value(column) ?? 0,
      unit: 'dB',
    };
  });
}

/** What a figure differs by from the plan in place. */
function Against({ line, column, place }: { line: Line; column: Column; place: Column }) {
  const [now, was] = [line.value?.(column) ?? NaN, line.value?.(place) ?? NaN];
  const by = now - was;
  if (!Number.isFinite(by) || Math.abs(by) < 0.05) return null;
  return (
    <span className="ledger-was" title="against the plan in place">
      {typeset(by, Math.abs(by) < 10 ? 1 : 0, true)}
    </span>
  );
}
