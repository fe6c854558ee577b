import { useState } from 'react';

/** The moment when a screen was opened, ISO 8601 in UTC: a screen that is drawn again does not change with the clock. */
export function useToday(): string {
  const [today] = useState(() => new Date().toISOString());
  return today;
}
