import type { LinkView } from '@kivram/contract/views/link';
import { aimByEye } from '@kivram/core/aiming/eye';
import { lonePlan } from '@kivram/core/aiming/lone';
import { ends, otherEnd } from '@kivram/core/budget/plan';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import { Figure } from '../parts/Figure';

/** How one person does it with the fewest ways between the ends. */
export function Alone({ view, prediction }: { view: LinkView; prediction: LinkPrediction }) {
  const eye = {
    near: aimByEye(view.near.model.beamWidth, prediction.distanceM),
    far: aimByEye(view.far.model.beamWidth, prediction.distanceM),
  };
  const turned = ends.filter((end) => view[end].radio.azimuthDeg === null);
  if (!turned.length) return null;
  const { startAt, trips, spareDb } = lonePlan(
    eye,
    { near: prediction.near.marginDb, far: prediction.far.marginDb },
    turned,
  );
  const first = view[startAt].place.name;
  const second = view[otherEnd(startAt)].place.name;
  return (
    <details>
      <summary>
        Alone?{' '}
        {trips === 0
          ? `Only ${first} is turned: stay there.`
          : `${trips === 1 ? 'One way' : 'There and back'} is enough, if you begin at ${first}.`}
      </summary>
      {trips > 0 && (
        <ol>
          <li>
            At {first}: set the antenna by compass, tilt and eye, and {trips === 1 ? 'lock it' : 'lock it lightly'}.
            That costs about <Figure value={eye[startAt].lossDb} unit="dB" />
            {trips === 1 ? ', which can stay.' : ' for now.'}
          </li>
          <li>Go to {second}: aim it finely, lock it. Both levels are read there, over the link itself.</li>
          {trips === 2 && (
            <li>Go back to {first}, and aim it finely against the other. Nothing needs you there again.</li>
          )}
        </ol>
      )}
      <p className="note">
        {spareDb > 0 ? (
          <>
            With both ends only roughly set about <Figure value={spareDb} unit="dB" /> are left over the weakest level
            that is heard.
          </>
        ) : (
          <>
            With both ends only roughly set nothing may be heard: <Figure value={-spareDb} unit="dB" /> are missing.
            Take a landmark on the bearing for the first end, or a second person.
          </>
        )}
      </p>
    </details>
  );
}
