import { minutesAYear } from '@kivram/core/budget/availability';
import type { LinkPrediction } from '@kivram/core/budget/prediction';

/** A time of a year in the unit that people say it in: "under a minute", "53 min", "4.2 h", "12 days", "all of it". @param minutes of an average year */
export function shortTime(minutes: number): string {
  if (minutes <= 0) return 'never';
  if (minutes < 1) return 'under 1 min';
  if (minutes < 120) return `${minutes.toFixed(0)} min`;
  const hours = minutes / 60;
  if (hours < 48) return `${hours.toFixed(hours < 10 ? 1 : 0)} h`;
  const days = hours / 24;
  return days >= 365 ? 'all of it' : `${days.toFixed(0)} days`;
}

/** How long in a year a need is not met, as far as anybody reckons it: the walls of a shaft shift levels, and nobody knows for how long. */
export function needTime({ need, ride }: Pick<LinkPrediction, 'need' | 'ride'>): string {
  if (!need) return '–';
  return ride ? 'not reckoned' : shortTime(need.below.totalMin);
}

/** Beyond this the models behind it say nothing any more. */
const mostPercent = 99.999;

/** Share of a year that some minutes leave, in percent with as many nines as there are. */
export function availabilityText(belowMin: number): string {
  const percent = 100 * (1 - belowMin / minutesAYear);
  if (percent <= 0) return '0 %';
  if (percent > mostPercent) return `over ${mostPercent} %`;
  const nines = Math.floor(-Math.log10(1 - percent / 100));
  return `${percent.toFixed(Math.max(1, nines - 1))} %`;
}
