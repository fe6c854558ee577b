import type { GraphLink } from '@kivram/core/topology/graph';
import type { Cable, KeptNeed } from '../entities/need';

/** A link as needs cross it, with what it was planned for. */
export interface NeedLink extends GraphLink {
  name: string;
  version: number;
  needNearToFarMbps: number;
  needFarToNearMbps: number;
}

/** All that needs are added up from. */
export interface NeedsView {
  needs: KeptNeed[];
  places: { id: string; name: string }[];
  links: NeedLink[];
  cables: Cable[];
  feedPlaceId: string | null;
  feedDownMbps: number | null;
  feedUpMbps: number | null;
}
