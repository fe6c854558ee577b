import type { AntennaPattern } from './antennaPattern';
import { evenPanel } from './evenPanel';

/** A rod sends all around, and is narrow upwards only. */
export const rod: AntennaPattern = { share: (_, tiltWidths) => evenPanel.share(0, tiltWidths) };
