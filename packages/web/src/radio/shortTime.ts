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
