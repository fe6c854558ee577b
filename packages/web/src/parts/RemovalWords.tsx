import type { Route } from '@kivram/contract/routes/route';
import type { RemovalView } from '@kivram/contract/views/job';
import { useQuery } from '@tanstack/react-query';
import { call } from '../api';
import { Problem } from './Problem';

interface Props {
  route: Route<undefined, RemovalView>;
  params: Record<string, string>;
}

/** What goes with something that is about to be removed. */
export function RemovalWords({ route, params }: Props) {
  const { data, error } = useQuery({
    queryKey: ['removal', route.path, params],
    queryFn: () => call(route, params),
    staleTime: 0,
    gcTime: 0,
  });
  if (error) return <Problem error={error} />;
  if (!data) return <p className="soft">Looking what hangs on it</p>;
  return (
    <>
      <p>
        With {data.what} goes{data.goes.length === 1 ? '' : ':'}
      </p>
      <ul>
        {data.goes.map((words) => (
          <li key={words}>{words}</li>
        ))}
        {!data.goes.length && <li>nothing else</li>}
      </ul>
      {data.links.length > 1 && <p>Links: {data.links.join(', ')}.</p>}
      <p className="note">It can be brought back from the timeline of the job.</p>
    </>
  );
}
