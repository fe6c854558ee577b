import type { UnitSystem } from '@kivram/core';
import { useLocalStorage } from '@mantine/hooks';
import { createContext, useContext, type ReactNode } from 'react';

interface Settings {
  units: UnitSystem;
  switchUnits(): void;
}

const Context = createContext<Settings | null>(null);

/** What this browser remembers by itself: the unit system. Who is working is the session's, on the server. */
export function SettingsProvider({ children }: { children: ReactNode }) {
  const [units, setUnits] = useLocalStorage<UnitSystem>({
    key: 'kivram-units',
    defaultValue: 'metric',
    getInitialValueInEffect: false,
  });
  const switchUnits = (): void => setUnits(units === 'metric' ? 'imperial' : 'metric');
  return <Context.Provider value={{ units, switchUnits }}>{children}</Context.Provider>;
}

export function useSettings(): Settings {
  const settings = useContext(Context);
  if (!settings) throw new Error('SettingsProvider is missing');
  return settings;
}
