import type { CrewMember } from '../entities/crewMember';
import type { Photo, Visit } from '../entities/visit';

/** What a photo file may hold. */
export const photoLimits = { megabytes: 30 } as const;

/** All visits of a job, newest first, and the photos of its radios, places and visits. */
export interface VisitsView {
  visits: Visit[];
  photos: Photo[];
  crew: CrewMember[];
}
