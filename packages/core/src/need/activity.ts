/** What people and things at a place do over the link. */
export const activityKinds = ['camera', 'stream4k', 'browsing', 'audio', 'videoCall', 'telemetry', 'other'] as const;
export type ActivityKind = (typeof activityKinds)[number];

/** What one of a kind needs, Mbit/s. `to` the place is what comes from the feed. */
export interface ActivityRule {
  words: string;
  toMbps: number;
  fromMbps: number;
  /** what such things need at the most, one way; more was hardly meant */
  mostMbps: number;
}

/**
 * Rules of thumb: a 4K stream about 20 Mbit/s, browsing 5 to 10, audio under 1, an IP camera 2 to 8 depending on quality; the way back and the rest too: common practice, no
 * source. Always to be typed over.
 */
export const activities: Readonly<Record<ActivityKind, ActivityRule>> = {
  camera: { words: 'IP camera', toMbps: 0.1, fromMbps: 6, mostMbps: 25 },
  stream4k: { words: '4K stream', toMbps: 20, fromMbps: 0.5, mostMbps: 60 },
  browsing: { words: 'person browsing', toMbps: 8, fromMbps: 1, mostMbps: 50 },
  audio: { words: 'audio', toMbps: 0.5, fromMbps: 0.1, mostMbps: 2 },
  videoCall: { words: 'video call', toMbps: 4, fromMbps: 4, mostMbps: 15 },
  telemetry: { words: 'telemetry', toMbps: 0.02, fromMbps: 0.05, mostMbps: 2 },
  other: { words: 'something else', toMbps: 1, fromMbps: 1, mostMbps: Infinity },
};

/** Some of a kind at a place. */
export interface NeedItem {
  kind: ActivityKind;
  count: number;
  /** of one of them */
  toMbps: number;
  fromMbps: number;
  /** the other end of the traffic, such as the place of a recorder; null: the feed */
  towardPlaceId: string | null;
}

/** All that a place needs, and how it is added up. */
export interface PlaceNeed {
  placeId: string;
  items: readonly NeedItem[];
  /** share of it that runs at once, 0 to 1 */
  simultaneity: number;
  /** what comes on top in the years that the link is planned for, percent */
  growthPercent: number;
  /** what is kept free, percent */
  headroomPercent: number;
  /** the slowest thing between the place's radio and its devices: a powerline adapter, an old switch; null: nothing slower than the radio's port */
  adapterMbps: number | null;
}

/** A rate that was hardly meant as it was typed. */
export interface RateDoubt {
  words: string;
  likelyMbps: number;
}

/** Rates on air that boxes and advertisements carry, Mbit/s: those of 802.11n, ac and ax with one to four streams, and their sums of bands. */
const headlineMbps = [
  150, 300, 450, 600, 433, 867, 1300, 1733, 574, 1201, 2402, 4804, 1200, 1750, 1800, 1900, 3000, 5400, 6000,
];

/** Of a rate on air, TCP one way delivers about this share: frame exchange and headers take the rest (common practice, no source; `expectTcp` computes it). */
const deliveredShare = 0.7;

/** Catches a MByte/s that was typed as Mbit/s and a headline rate that was taken for a need; undefined where nothing is strange. */
export function doubtRate(kind: ActivityKind, mbps: number): RateDoubt | undefined {
  const { words, mostMbps } = activities[kind];
  if (mbps > mostMbps) {
    const thousandth = mbps / 1000;
    if (thousandth >= 0.05 * mostMbps && thousandth <= mostMbps)
      return {
        words: `${mbps} Mbit/s is more than one ${words} needs: were kbit/s typed? Then it is ${thousandth} Mbit/s.`,
        likelyMbps: thousandth,
      };
  }
  const headline = headlineMbps.find((rate) => Math.abs(mbps - rate) < 1.5);
  if (headline !== undefined)
    return {
      words: `${mbps} Mbit/s is the rate on air that a box of 802.11 carries. What crosses is about ${Math.round(headline * deliveredShare)}: say what is needed, not what the box promises.`,
      likelyMbps: Math.round(headline * deliveredShare),
    };
  if (mbps > mostMbps)
    return {
      words: `${mbps} Mbit/s is more than one ${words} needs, ${mostMbps} at the most: is it the need of all of them together?`,
      likelyMbps: mostMbps,
    };
  return undefined;
}

/** What a new link is planned for where nobody says: some places on the internet, or telemetry at 9600 bit/s over a licensed pair. Common practice, no source. */
export function usualNeed(isLicensed: boolean): { nearToFarMbps: number; farToNearMbps: number } {
  return isLicensed ? { nearToFarMbps: 0.0096, farToNearMbps: 0.0096 } : { nearToFarMbps: 50, farToNearMbps: 20 };
}
