import type { ReactNode } from 'react';
import './facing.css';

export interface FacingRow {
  key: string;
  name: ReactNode;
  near: ReactNode;
  far: ReactNode;
  /** how both values must lie to each other; none: they are free */
  rule?: Rule;
  /** they do not */
  broken?: boolean;
  /** something else is wrong here */
  wrong?: boolean;
}

/** Both ends must have the same, each its own, or the other's the other way round. */
export type Rule = 'match' | 'differ' | 'exchange';

const ruleMarks: Record<Rule, { sign: string; words: string; brokenWords: string }> = {
  match: { sign: '=', words: 'must be the same at both ends', brokenWords: 'differs, must be the same' },
  differ: { sign: '≠', words: 'must differ', brokenWords: 'the same, must differ' },
  exchange: { sign: '⇄', words: 'must be exchanged', brokenWords: 'must be exchanged' },
};

/** Near | air | far: values of both ends meeting at their name. */
export function Facing({ near, far, air, rows }: { near: string; far: string; air?: ReactNode; rows: FacingRow[] }) {
  return (
    <div className="facing" role="table" aria-label={`${near} and ${far}`}>
      <div role="row" className="facing-head">
        <div role="columnheader" className="facing-near near">
          {near}
        </div>
        <div role="columnheader" className={air ? 'facing-air' : 'facing-air facing-plain'}>
          {air ?? 'air'}
        </div>
        <div role="columnheader" className="facing-far far">
          {far}
        </div>
      </div>
      {rows.map((row) => (
        <div role="row" key={row.key} className={`facing-row${row.broken || row.wrong ? ' facing-wrong' : ''}`}>
          <div role="cell" className="facing-near">
            {row.near}
          </div>
          <div role="rowheader" className="facing-air">
            {row.name}
            {row.rule && (
              <span className="facing-relation">
                <span aria-hidden="true" title={ruleMarks[row.rule].words}>
                  {ruleMarks[row.rule].sign}
                </span>
                <span className={row.broken ? 'facing-broken' : 'visually-hidden'}>
                  {row.broken ? ruleMarks[row.rule].brokenWords : ruleMarks[row.rule].words}
                </span>
              </span>
            )}
          </div>
          <div role="cell" className="facing-far">
            {row.far}
          </div>
        </div>
      ))}
    </div>
  );
}
