import type { JobMapView, JobView } from '@kivram/contract/views/job';

/** A job as its map needs it. */
export type MapJob = JobView & JobMapView;
