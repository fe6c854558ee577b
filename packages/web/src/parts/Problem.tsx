import { withMinus } from '@kivram/core/units/number';
import { ProblemError } from '../api';
import { KeptError } from '../outbox/outbox';

/** What went wrong, in words; the fields at fault on lines of their own when there are several. */
export function Problem({ error }: { error: unknown }) {
  if (!error) return null;
  if (error instanceof KeptError)
    return (
      <p className="caution" role="status">
        {error.message}
      </p>
    );
  const problem = error instanceof ProblemError ? error.problem : null;
  const errors = problem?.errors ?? [];
  return (
    <div className="problem" role="alert">
      {errors.length > 1 ? (
        <ul className="plain">
          {errors.map((e) => (
            <li key={`${e.field} ${e.message}`}>{withMinus(e.message)}</li>
          ))}
        </ul>
      ) : (
        withMinus(problem?.detail ?? (error instanceof Error ? error.message : String(error)))
      )}
    </div>
  );
}
