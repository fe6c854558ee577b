import { routes } from '@kivram/contract/routes';
import { Button } from '@mantine/core';
import { Link, useLocation, useRouteError } from 'react-router';
import { keptReading } from '../offline/keptReading';

/** What was kept to be read without a network may be what the page cannot show: where the server can be asked, it goes. */
async function tryAgain(): Promise<void> {
  const answers = await fetch(routes.health.path).then(
    ({ ok }) => ok,
    () => false,
  );
  if (answers) await keptReading.removeClient();
  window.location.reload();
}

/** In place of a screen that could not be drawn: what happened, and the ways on. What was typed is kept elsewhere and comes back. */
export function RouteProblem() {
  const error = useRouteError();
  const { pathname } = useLocation();
  const outdated = error instanceof TypeError && /import|module/i.test(error.message);
  return (
    <section role="alert">
      <h1>This page cannot be shown</h1>
      <p>
        {outdated
          ? 'A part of the page could not be loaded: the server does not answer, or a newer Kivram runs there.'
          : 'Something in it went wrong that Kivram did not expect.'}{' '}
        What you have typed is kept and stands there again when the page does.
      </p>
      <div className="row">
        <Button onClick={() => void tryAgain()}>Try again</Button>
        <Button component={Link} to="/jobs" variant="default">
          All jobs
        </Button>
      </div>
      <details style={{ marginTop: 16 }}>
        <summary>For whoever mends it</summary>
        <p className="note">
          {pathname}: {error instanceof Error ? `${error.name}: ${error.message}` : String(error)}
        </p>
      </details>
    </section>
  );
}
