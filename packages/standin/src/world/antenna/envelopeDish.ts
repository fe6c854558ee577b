import type { AntennaPattern } from './antennaPattern';

/** Side lobes touch the line that planners reckon with: from here on it falls with 25 dB a decade (the form of ITU-R F.699, by memory). */
const lineDb = 11.5;
const lineFromWidths = 1.1;
/** From valley to valley between side lobes, and how deep those are. */
const spacingWidths = 0.8;
const deepDb = 14;

/** A dish that is no better anywhere than planners must fear: a round main lobe, then side lobes that touch the planner's line. */
export const envelopeDish: AntennaPattern = {
  share(azimuthWidths, tiltWidths) {
    const off = Math.hypot(azimuthWidths, tiltWidths);
    const mainDb = 12 * off * off;
    const beyond = Math.max(off, lineFromWidths);
    const between = Math.cos((Math.PI * (beyond - lineFromWidths - spacingWidths / 2)) / spacingWidths) ** 2;
    const sideDb = lineDb + 25 * Math.log10(beyond / lineFromWidths) + deepDb * (1 - between);
    return 10 ** (-mainDb / 10) + (off > 0.8 ? 10 ** (-sideDb / 10) : 0);
  },
};
