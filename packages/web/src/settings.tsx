import type { UnitSystem } from '@kivram/core';
import { useLocalStorage } from '@mantine/hooks';
import { createContext, useContext, type ReactNode } from 'react';

interface Settings {
  units: UnitSystem;
  switchUnits(): void;
  /** who works now; chosen by name until there are accounts */
  crewMemberId: string | null;
  chooseCrewMember(id: string | null): void;
}

const Context = createContext<Settings | null>(null);

/** What this browser remembers: the unit system and who is working. */
export function SettingsProvider({ children }: { children: ReactNode }) {
  const [units, setUnits] = useLocalStorage<UnitSystem>({
    key: 'kivram-units',
    defaultValue: 'metric',
    getInitialValueInEffect: false,
  });
  const [crewMemberId, chooseCrewMember] = useLocalStorage<string | null>({
    key: 'kivram-crew-member',
    defaultValue: null,
    getInitialValueInEffect: false,
  });
  const switchUnits = (): void => setUnits(units === 'metric' ? 'imperial' : 'metric');
  return <Context.Provider value={{ units, switchUnits, crewMemberId, chooseCrewMember }}>{children}</Context.Provider>;
}

export function useSettings(): Settings {
  const settings = useContext(Context);
  if (!settings) throw new Error('SettingsProvider is missing');
  return settings;
}
