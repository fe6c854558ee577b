import type { JobMapView, JobView } from '@kivram/contract';

/** A job as its map needs it. */
export type MapJob = JobView & JobMapView;
