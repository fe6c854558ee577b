import { Link } from 'react-router';
import { Problem } from './Problem';

/** In place of a screen whose job or link could not be read: why, and the way on. */
export function NotShown({ error }: { error: unknown }) {
  return (
    <>
      <Problem error={error} />
      <p>
        <Link to="/jobs">All jobs</Link>
      </p>
    </>
  );
}
