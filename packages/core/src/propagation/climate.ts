import type { GroundAir } from './gases';

/** The weather that links of a job live in, as far as their levels depend on it. */
export interface Climate extends GroundAir {
  /** rain rate exceeded for 0.01 % of the average year, 53 minutes, mm/h */
  rainMmPerH: number;
  /** refractivity gradient in the lowest 65 m not exceeded for 1 % of the average year, N-units/km */
  gradientPerKm: number;
  /** that nobody chose it: whatever rests on it is a guess too */
  isGuessed?: boolean;
}

export const climateClasses = [
  'polar',
  'cold',
  'desert',
  'mild',
  'continental',
  'subtropical',
  'tropical',
  'monsoon',
] as const;
export type ClimateClass = (typeof climateClasses)[number];

/** What an installer picks, or types over. What is not typed follows from the class. */
export interface ClimateChoice {
  /** null: nobody chose, it is guessed from the latitude */
  class: ClimateClass | null;
  rainMmPerH: number | null;
}

interface ClassOfClimate extends Climate {
  words: string;
  /** of the rain rates in ITU-R P.837-1 (1994) table 1 */
  rainZone: string;
}

/**
 * Rain rates are those of rain zones in ITU-R P.837-1 (1994) table 1, from memory: later editions give maps, which are too large to carry, and where you know the
 * rate of your place you type it. Temperature and vapour: the reference atmospheres of ITU-R P.835-6 (high, middle and low latitude, summer, which takes more than
 * winter). Gradients: common practice, no source; ITU-R P.453 has the map.
 */
export const climates: Readonly<Record<ClimateClass, ClassOfClimate>> = {
  polar: {
    words: 'polar',
    rainZone: 'A',
    rainMmPerH: 8,
    temperatureC: 13.69,
    vapourGPerM3: 8.988,
    gradientPerKm: -100,
  },
  cold: {
    words: 'cold, like the north of Europe',
    rainZone: 'C',
    rainMmPerH: 15,
    temperatureC: 13.69,
    vapourGPerM3: 8.988,
    gradientPerKm: -150,
  },
  desert: {
    words: 'dry, desert',
    rainZone: 'E',
    rainMmPerH: 22,
    temperatureC: 21.83,
    vapourGPerM3: 7.5,
    gradientPerKm: -400,
  },
  mild: {
    words: 'mild, by the sea',
    rainZone: 'G',
    rainMmPerH: 30,
    temperatureC: 15,
    vapourGPerM3: 7.5,
    gradientPerKm: -200,
  },
  continental: {
    words: 'continental, thunder in summer',
    rainZone: 'K',
    rainMmPerH: 42,
    temperatureC: 21.83,
    vapourGPerM3: 14.3542,
    gradientPerKm: -200,
  },
  subtropical: {
    words: 'subtropical, moist',
    rainZone: 'M',
    rainMmPerH: 63,
    temperatureC: 21.83,
    vapourGPerM3: 14.3542,
    gradientPerKm: -400,
  },
  tropical: {
    words: 'tropical',
    rainZone: 'N',
    rainMmPerH: 95,
    temperatureC: 27.26,
    vapourGPerM3: 19.7,
    gradientPerKm: -500,
  },
  monsoon: {
    words: 'tropical, monsoon',
    rainZone: 'P',
    rainMmPerH: 145,
    temperatureC: 27.26,
    vapourGPerM3: 19.7,
    gradientPerKm: -600,
  },
};

/**
 * The class that a latitude suggests where nobody chose one: by the belts of the globe, common practice, no source. Between 50 and 66.5 degrees most people live in
 * the zones E to H of ITU-R P.837-1, 22 to 32 mm/h (from memory): their wetter end stands for all of them, so that a guess promises no more than there is.
 */
export function likelyClimate(latitudeDeg: number): ClimateClass {
  const from = Math.abs(latitudeDeg);
  if (from < 20) return 'tropical';
  if (from < 35) return 'subtropical';
  if (from < 50) return 'continental';
  if (from < 66.5) return 'mild';
  return from < 75 ? 'cold' : 'polar';
}

/** The climate that a choice means at a latitude. */
export function climateOf(choice: ClimateChoice, latitudeDeg: number): Climate {
  const { temperatureC, vapourGPerM3, gradientPerKm, rainMmPerH } =
    climates[choice.class ?? likelyClimate(latitudeDeg)];
  return {
    temperatureC,
    vapourGPerM3,
    gradientPerKm,
    rainMmPerH: choice.rainMmPerH ?? rainMmPerH,
    ...(choice.class === null && { isGuessed: true }),
  };
}
