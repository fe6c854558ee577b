import type { ReactNode } from 'react';
import './facing.css';

export interface FacingRow {
  key: string;
  name: ReactNode;
  near: ReactNode;
  far: ReactNode;
  /** for settings that must match or differ */
  relation?: 'same' | 'differs';
  /** differing is wrong here */
  wrong?: boolean;
}

/** Near | air | far: values of both ends meeting at their name. */
export function Facing({ near, far, air, rows }: { near: string; far: string; air?: ReactNode; rows: FacingRow[] }) {
  return (
    <div className="facing" role="table" aria-label={`${near} and ${far}`}>
      <div role="row" className="facing-head">
        <div role="columnheader" className="facing-near near">
          {near}
        </div>
        <div role="columnheader" className="facing-air">
          {air ?? 'air'}
        </div>
        <div role="columnheader" className="facing-far far">
          {far}
        </div>
      </div>
      {rows.map((row) => (
        <div role="row" key={row.key} className={`facing-row${row.wrong ? ' facing-wrong' : ''}`}>
          <div role="cell" className="facing-near">
            {row.near}
          </div>
          <div role="rowheader" className="facing-air">
            {row.name}
            {row.relation && (
              <span className="facing-relation" title={row.relation === 'same' ? 'the same at both ends' : 'different'}>
                {row.relation === 'same' ? '=' : '≠'}
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
