import type { SpecFinding } from '@kivram/core/gear/plausible';
import type { Model } from '@kivram/core/gear/model';
import { Button } from '@mantine/core';
import type { SpecForm } from './specForm';

/** What is likely mistyped in a sheet, to stand at its field, with what was likely meant. */
export function Slips({
  findings,
  onChange,
}: {
  findings: readonly SpecFinding[];
  onChange(changes: Partial<SpecForm>): void;
}) {
  return findings.map(({ severity, reason, likely }) => (
    <div key={reason} className={`spec-slip ${severity === 'forbids' ? 'problem' : 'caution'}`}>
      {reason}{' '}
      {likely && (
        <Button size="compact-sm" variant="default" onClick={() => onChange(formChanges(likely))}>
          Take it so
        </Button>
      )}
    </div>
  ));
}

/** What was likely meant, as the form has it. */
function formChanges({ beamWidth, ...plain }: Partial<Model>): Partial<SpecForm> {
  return {
    ...(plain as Partial<SpecForm>),
    ...(beamWidth && { azimuthDeg: beamWidth.azimuthDeg, elevationDeg: beamWidth.elevationDeg }),
  };
}
