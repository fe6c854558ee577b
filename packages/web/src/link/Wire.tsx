import { evidenceText, steps, type StepState } from '@kivram/core/verdict/steps';
import { NavLink } from 'react-router';
import { Length } from '../parts/Figure';
import { StateShape, stateWord } from '../parts/StateMark';
import './wire.css';

interface Props {
  linkId: string;
  near: string;
  far: string;
  distanceM: number | null;
  states: StepState[];
}

/** The head of a link: two posts, a wire between them, the steps of the work as beads on it. */
export function Wire({ linkId, near, far, distanceM, states }: Props) {
  return (
    <div className="wire">
      <div className="wire-post near">
        <span className="wire-end">near</span>
        <strong>{near}</strong>
      </div>
      <nav className="wire-line" aria-label="Steps of the work">
        <svg className="wire-curve" viewBox="0 0 100 20" preserveAspectRatio="none" aria-hidden="true">
          <path
            d="M0 1Q50 35 100 1"
            fill="none"
            stroke="var(--ink)"
            strokeWidth="1.5"
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        <ol className="wire-beads">
          {steps.map((step, i) => {
            const state = states.find((s) => s.step === step);
            // The beads hang where the wire hangs: a parabola through both posts.
            const x = (i + 0.5) / steps.length;
            const sag = 4 * x * (1 - x);
            return (
              <li key={step} className={`wire-bead wire-sag-${Math.round(sag * 10)}`}>
                <NavLink
                  to={`/links/${linkId}/${step}`}
                  title={state && [state.because, evidenceText(state)].filter(Boolean).join('; ')}
                >
                  <StateShape state={state?.state ?? 'open'} size={20} />
                  <span className="wire-step">{step}</span>
                  <span className="wire-word" style={{ color: `var(--${state?.state ?? 'open'})` }}>
                    {stateWord(state?.state ?? 'open')}
                  </span>
                </NavLink>
              </li>
            );
          })}
        </ol>
      </nav>
      <div className="wire-post far">
        <span className="wire-end">far</span>
        <strong>{far}</strong>
        <span className="wire-distance">
          <Length metres={distanceM} />
        </span>
      </div>
    </div>
  );
}
