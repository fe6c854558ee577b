import type { LevelWay } from '@kivram/core/aiming/levelWay';
import type { End } from '@kivram/core/budget/plan';
import { typeset } from '../parts/Figure';
import { usePhoneAngle } from './usePhoneAngle';

interface Props {
  alignmentId: string;
  end: End;
  /** where the level of this end comes from: a stand-in has a simulated phone */
  way: LevelWay | undefined;
  /** whether the other readings of this end carry an angle now */
  hasAngle: boolean;
}

/** This phone as the sensor on the antenna, shown as what it is. */
export function PhoneSensor({ alignmentId, end, way, hasAngle }: Props) {
  const [state, switchTo] = usePhoneAngle(alignmentId, end);
  const isOn = state.kind === 'on';
  const angle = state.kind === 'on' ? state.angle : null;
  return (
    <section aria-label="Phone as the sensor" className="phone-sensor">
      <button type="button" aria-pressed={isOn} onClick={() => switchTo(!isOn)}>
        {isOn ? 'this phone tells the angle' : 'let this phone tell the angle'}
      </button>
      <p className="note" data-testid="phone-angle">
        {angle && (
          <>
            Turned {typeset(angle.azimuthDeg, 1, true)}° by its{' '}
            {angle.azimuthBy === 'relative' ? 'gyroscope' : 'compass'}, tilt {typeset(angle.tiltDeg, 1, true)}° by
            gravity; its {angle.side === 'top' ? 'upper edge' : 'back'} points the way of the antenna.
            {angle.azimuthBy === 'compass' &&
              ' Away from iron, move it in a figure of eight first; beside a mast a compass goes wrong, and the level will say so.'}
          </>
        )}
        {isOn && !angle && 'Waiting for the phone to tell its attitude.'}
        {state.kind === 'asking' && 'Asking for leave to read its attitude.'}
        {state.kind === 'off' &&
          (hasAngle
            ? way === 'standin'
              ? 'The angle is that of a simulated phone on the stand-in mount.'
              : 'Another phone tells the angle.'
            : 'Nothing tells the angle yet. Strap a phone to the antenna, its upper edge or back to the front, then tap here on that phone.')}
      </p>
      {state.kind === 'refused' && (
        <p className="problem" role="alert">
          {state.words}
        </p>
      )}
    </section>
  );
}
