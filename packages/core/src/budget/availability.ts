import { multipathPercent, type MultipathFade } from '../propagation/multipath';
import { rainyPercent, type RainFade } from '../propagation/rain';

/** Minutes of an average year: 365.25 days. */
export const minutesAYear = 525_960;

/** What weather does to one hop. */
export interface HopWeather {
  /** null where rain takes nothing from this frequency */
  rain: RainFade | null;
  multipath: MultipathFade;
}

/** Minutes of an average year in which a level lies below something, by what takes it there. */
export interface Outage {
  /** all of them where the level of a clear day is below already, else none */
  clearMin: number;
  rainMin: number;
  multipathMin: number;
  totalMin: number;
}

const always: Outage = { clearMin: minutesAYear, rainMin: 0, multipathMin: 0, totalMin: minutesAYear };

/**
 * How long in a year a margin is used up. Rain and several rays hardly come together, so their times are added (ITU-R P.530-17 section 2.4.7).
 * @param weather null in a shaft, where there is none
 * @param rainMarginDb where rain uses up another margin, since it takes from others on the air too
 */
export function outageOf(marginDb: number, weather: HopWeather | null, rainMarginDb = marginDb): Outage {
  if (!(marginDb >= 0)) return always;
  const rainMin = weather ? (rainyPercent(weather.rain, rainMarginDb) * minutesAYear) / 100 : 0;
  const multipathMin = weather ? (multipathPercent(weather.multipath, marginDb) * minutesAYear) / 100 : 0;
  return { clearMin: 0, rainMin, multipathMin, totalMin: Math.min(minutesAYear, rainMin + multipathMin) };
}
