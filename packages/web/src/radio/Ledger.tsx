import type { LedgerLine } from '@kivram/core/budget/ledger';
import { marginLines } from '@kivram/core/budget/marginLines';
import type { End } from '@kivram/core/budget/plan';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import { useState } from 'react';
import { typeset } from '../parts/Figure';
import { Against } from './Against';

/** Gains and losses, line by line, with the running level as a fall from power to level; each line opens to what it was computed from. */
export function Ledger({
  title,
  end,
  prediction,
  before,
}: {
  title: string;
  end: End;
  prediction: LinkPrediction;
  /** of the plan in place, where something else is tried */
  before?: LinkPrediction | null;
}) {
  const [open, setOpen] = useState<string | null>(null);
  const lines = linesOf(prediction, end);
  const were = before && linesOf(before, end);
  const scale = scaleOf(lines);
  return (
    <section className="ledger">
      <h2 className={end}>{title}</h2>
      <table className="ruled">
        <thead>
          <tr>
            <th>Line</th>
            <th className="right">Change</th>
            <th className="right">Level</th>
            <th className="ledger-fall" aria-hidden="true">
              {typeset(scale.low, 0)} to {typeset(scale.high, 0)} dBm
            </th>
          </tr>
        </thead>
        {lines.map((line) => {
          const was = were?.find((l) => l.key === line.key);
          return (
            <tbody key={line.key}>
              <tr className={line.kind === 'level' ? 'radio-sum' : ''}>
                <td>
                  <button
                    type="button"
                    className="ledger-line"
                    aria-expanded={open === line.key}
                    onClick={() => setOpen(open === line.key ? null : line.key)}
                  >
                    {line.label}
                  </button>
                </td>
                <td className="right figure">
                  {line.kind === 'change' ? `${typeset(line.value, 1, true)} dB` : ''}
                  {line.kind === 'change' && <Against now={line.value} was={before && (was?.value ?? 0)} digits={1} />}
                </td>
                <td className="right figure">
                  {typeset(line.runningDbm, 1)} dBm
                  {line.kind === 'level' && (
                    <Against now={line.runningDbm} was={before && (was?.runningDbm ?? 0)} digits={1} />
                  )}
                </td>
                <td className="ledger-fall">
                  <Fall line={line} scale={scale} end={end} />
                </td>
              </tr>
              {open === line.key && <Terms line={line} />}
            </tbody>
          );
        })}
      </table>
    </section>
  );
}

interface Scale {
  low: number;
  high: number;
}

/** From the power at the other end to the level at this one, and on to where nothing crosses. */
function linesOf(prediction: LinkPrediction, end: End): LedgerLine[] {
  return [...prediction[end].ledger, ...marginLines(prediction[end], prediction.need && prediction.need.fadeDb)];
}

function scaleOf(lines: readonly LedgerLine[]): Scale {
  const levels = lines.flatMap((line) => [
    line.runningDbm,
    line.kind === 'change' ? line.runningDbm - line.value : line.runningDbm,
  ]);
  const tens = (x: number, round: (x: number) => number): number => 10 * round(x / 10);
  return { low: tens(Math.min(...levels), Math.floor), high: tens(Math.max(...levels), Math.ceil) };
}

/** The level before and after a line, on the scale of the whole ledger. */
function Fall({ line, scale: { low, high }, end }: { line: LedgerLine; scale: Scale; end: End }) {
  const percent = (dbm: number): number => (100 * (dbm - low)) / (high - low);
  const after = percent(line.runningDbm);
  const before = line.kind === 'change' ? percent(line.runningDbm - line.value) : after;
  return (
    <span className="fall" aria-hidden="true">
      <span
        className={`fall-bar fall-${fallOf(line, end)}`}
        style={
          line.kind === 'level'
            ? { left: 0, width: `${after}%` }
            : { left: `${Math.min(before, after)}%`, width: `max(2px, ${Math.abs(after - before)}%)` }
        }
      />
    </span>
  );
}

function fallOf({ key, kind, value }: LedgerLine, end: End): string {
  if (kind === 'level') return end;
  if (key.endsWith('Margin')) return value > 0 ? 'missing' : 'margin';
  return value < 0 ? 'loss' : 'gain';
}

/** What a line was computed from. */
function Terms({ line }: { line: LedgerLine }) {
  const terms = line.terms?.() ?? [];
  return (
    <tr className="ledger-terms">
      <td colSpan={4}>
        {terms.length > 0 && (
          <dl>
            {terms.map(({ name, value, unit }) => (
              <div key={name}>
                <dt>{name}</dt>
                <dd className="figure">
                  {typeset(value, digitsOf(value))} {unit}
                </dd>
              </div>
            ))}
          </dl>
        )}
        <span className="note">From: {line.source}.</span>
      </td>
    </tr>
  );
}

/** Small figures keep what makes them different from none. */
function digitsOf(value: number): number {
  const size = Math.abs(value);
  if (size === 0 || Number.isInteger(value)) return 0;
  return size >= 100 ? 1 : size >= 1 ? 2 : 4;
}
