import type { UnitSystem } from '@kivram/core/units';
import { useLocalStorage } from '@mantine/hooks';
import { createContext, useContext, useState, type ReactNode } from 'react';

interface Settings {
  units: UnitSystem;
  switchUnits(): void;
  /** shows lengths as a job has them, unless this browser was switched */
  followJob(units: UnitSystem): void;
}

const Context = createContext<Settings | null>(null);

/** What this browser remembers by itself: the units of jobs that it was switched away from. Who is working is the session's, on the server. */
export function SettingsProvider({ children }: { children: ReactNode }) {
  const [ofJob, followJob] = useState<UnitSystem>('metric');
  // Jobs of the other units are shown in their own: who switched one in metres said nothing of one in feet.
  const [switched, setSwitched] = useLocalStorage<UnitSystem | null>({
    key: 'kivram-units-switched',
    defaultValue: null,
    getInitialValueInEffect: false,
  });
  const other = (units: UnitSystem): UnitSystem => (units === 'metric' ? 'imperial' : 'metric');
  const units = switched === ofJob ? other(ofJob) : ofJob;
  const switchUnits = (): void => setSwitched(switched === ofJob ? null : ofJob);
  return <Context.Provider value={{ units, switchUnits, followJob }}>{children}</Context.Provider>;
}

export function useSettings(): Settings {
  const settings = useContext(Context);
  if (!settings) throw new Error('SettingsProvider is missing');
  return settings;
}
