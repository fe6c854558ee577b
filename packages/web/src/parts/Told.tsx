import type { ReactNode } from 'react';
import './told.css';

/** What stands somewhere, as text: for who reads it and changes nothing. What is not known is left out. */
export function Told({ rows }: { rows: readonly (readonly [name: string, value: ReactNode])[] }) {
  return (
    <dl className="told">
      {rows.map(([name, value]) =>
        value === null || value === undefined || value === '' ? null : (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ),
      )}
    </dl>
  );
}
