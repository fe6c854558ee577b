import type { MarkBody } from '@kivram/contract/requests/work';
import type { Advice } from '@kivram/core/aiming/advice';
import type { AimStep } from '@kivram/core/aiming/aimGuide';
import type { AngleSource, Turning } from '@kivram/core/aiming/reading';
import { side } from './words';

interface Props {
  step: Pick<AimStep, 'end' | 'axis'>;
  advice: Advice;
  source: AngleSource;
  /** whether both ends are turned */
  hasOtherEnd: boolean;
  send(tap: Pick<MarkBody, 'kind' | 'direction'>): void;
}

/** The taps that go with the hands: notches of the scale, or when they turn where nothing else tells the angle; and the bolts. */
export function AimTaps({ step, advice, source, hasOtherEnd, send }: Props) {
  const { axis } = step;
  const turning = (direction: Turning, label: string) => (
    <button type="button" onClick={() => send({ kind: 'turning', direction })}>
      {label}
    </button>
  );
  const notch = (direction: Turning) => (
    <button type="button" onClick={() => send({ kind: 'notch', direction })}>
      notch {side(axis, direction)}
    </button>
  );
  return (
    <>
      {source === 'scale' && !advice.byTime && (
        <div className="aim-pair">
          {notch(-1)}
          {notch(1)}
        </div>
      )}
      {advice.byTime && (
        <div className="aim-pair">
          {turning(-1, `turning ${side(axis, -1)}`)}
          {turning(0, 'still')}
          {turning(1, `turning ${side(axis, 1)}`)}
        </div>
      )}
      {advice.action === 'otherEnd' && hasOtherEnd && (
        <button type="button" className="aim-lock" onClick={() => send({ kind: 'otherEnd' })}>
          To the other end
        </button>
      )}
      <button type="button" className="aim-lock" onClick={() => send({ kind: 'locked' })}>
        Locked
      </button>
    </>
  );
}
