import type { Alternative } from '@kivram/contract/entities/alternative';
import type { LedgerLine } from '@kivram/core/budget/ledger';
import { ends, type LinkPlan } from '@kivram/core/budget/plan';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import type { Price } from '@kivram/core/gear/model';
import { channelNumber } from '@kivram/core/spectrum/channel';
import { useState, type ReactNode } from 'react';
import { widthText } from '../parts/channelText';
import { Figure, typeset } from '../parts/Figure';
import { Rate } from '../parts/Rate';
import { Against } from './Against';
import type { PlanDraft } from './planDraft';
import { Guessed } from './Guessed';
import { needTime } from './shortTime';

/** One plan of those that are compared. */
export interface Column {
  key: string;
  name: string;
  draft: PlanDraft;
  plan: LinkPlan | null;
  prediction: LinkPrediction | null;
  kept: Alternative | null;
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
    of: ({ prediction }) =>
      prediction?.need ? (
        <>
          {needTime(prediction)}
          <Guessed climate={prediction.climate} />
        </>
      ) : (
        '–'
      ),
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

/** Plans beside each other, line by line, with what differs from the plan in place. */
export function Comparison({ columns, place }: { columns: readonly Column[]; place: Column | null }) {
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
          {column !== place && place && <Against now={shown.value?.(column)} was={shown.value?.(place)} />}
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
