import { routes, type LinkEnd } from '@kivram/contract';
import { NumberInput } from '@mantine/core';
import { useState } from 'react';
import { Problem } from '../parts/Problem';
import { useChange } from '../queries';
import { useSettings } from '../settings';
import { metresPerUnit, unitSuffix } from './ticks';

/** A mount's height, typed in place: everything recomputes when it is left. */
export function MountHeight({ end }: { end: LinkEnd }) {
  const { units } = useSettings();
  const perUnit = metresPerUnit(units);
  const [typed, setTyped] = useState<number | string | null>(null);
  const change = useChange(routes.changeRadio, { radioId: end.radio.id });
  const save = (): void => {
    const mountHeightM = Number(typed) * perUnit;
    if (typed === null || typed === '' || Math.abs(mountHeightM - end.radio.mountHeightM) < 0.005) return;
    change.mutate({ version: end.radio.version, mountHeightM }, { onSuccess: () => setTyped(null) });
  };
  return (
    <>
      <NumberInput
        aria-label={`Mounted above ground at ${end.place.name}`}
        value={typed ?? Number((end.radio.mountHeightM / perUnit).toFixed(2))}
        onChange={setTyped}
        onBlur={save}
        onKeyDown={(event) => event.key === 'Enter' && save()}
        suffix={unitSuffix(units)}
        min={0}
        w={130}
        maw="100%"
        size="sm"
      />
      <Problem error={change.error} />
    </>
  );
}
