import { lazy, Suspense, useState } from 'react';
import { Navigate } from 'react-router';
import { useJobs, useMay } from '../queries';

// Whoever has one job, as most have, passes here on the way to it: what the others need comes when they need it.
const FirstJob = lazy(async () => ({ default: (await import('./FirstJob')).FirstJob }));
const JobsScreen = lazy(async () => ({ default: (await import('./JobsScreen')).JobsScreen }));

/** Where Kivram opens: at the only job there is, at all of them, or at the first, which is to be begun. */
export function StartScreen() {
  const jobs = useJobs();
  const only = jobs.data?.length === 1 ? jobs.data[0] : undefined;
  const may = useMay();
  const isFirst = jobs.data?.length === 0 && may.work;
  // Once begun, the first job is finished here: its places are still on their way when it is in the list.
  const [begun, setBegun] = useState(false);
  if (isFirst && !begun) setBegun(true);
  const loading = <p className="soft">Loading</p>;
  if (jobs.isPending) return loading;
  if (only && !begun) return <Navigate to={`/jobs/${only.id}`} replace />;
  return <Suspense fallback={loading}>{begun ? <FirstJob /> : <JobsScreen />}</Suspense>;
}
