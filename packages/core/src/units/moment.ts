const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const two = (n: number): string => String(n).padStart(2, '0');

/** The day of a moment on the clock of whoever asks, as in 2026-01-31. */
export function localDay(date: Date): string {
  return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;
}

/** A day as Kivram writes it everywhere, on the clock of whoever reads it: 4 May 2026. @param at ISO 8601; a day without a time is that day everywhere */
export function dateText(at: string): string {
  const date = new Date(at.includes('T') ? at : `${at}T00:00`);
  return `${date.getDate()} ${months[date.getMonth()] ?? ''} ${date.getFullYear()}`;
}

/** The same with the time of day: 4 May 2026, 09:30. */
export function momentText(at: string): string {
  const date = new Date(at);
  return `${dateText(at)}, ${two(date.getHours())}:${two(date.getMinutes())}`;
}
