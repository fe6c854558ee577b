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

/** What this browser remembers by itself: the unit system, once it was switched. Who is working is the session's, on the server. */
export function SettingsProvider({ children }: { children: ReactNode }) {
  const [ofJob, followJob] = useState<UnitSystem>('metric');
  const [chosen, setChosen] = useLocalStorage<UnitSystem | null>({
    key: 'kivram-units',
    defaultValue: null,
    getInitialValueInEffect: false,
  });
  const units = chosen ?? ofJob;
  const switchUnits = (): void => setChosen(units === 'metric' ? 'imperial' : 'metric');
  return <Context.Provider value={{ units, switchUnits, followJob }}>{children}</Context.Provider>;
}

export function useSettings(): Settings {
  const settings = useContext(Context);
  if (!settings) throw new Error('SettingsProvider is missing');
  return settings;
}
