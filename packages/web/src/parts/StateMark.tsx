import { withMinus } from '@kivram/core/units/number';
import type { State } from '@kivram/core/verdict/verdict';

const words: Record<State, string> = { holds: 'holds', thin: 'thin', fails: 'fails', open: 'not done' };

/** A state's shape: disc, half disc, crossed square, ring. */
export function StateShape({ state, size = 16 }: { state: State; size?: number }) {
  const colour = `var(--${state})`;
  return (
    <svg width={size} height={size} viewBox="0 0 16 16" aria-hidden="true">
      {state === 'fails' ? (
        <>
          <rect x="1.5" y="1.5" width="13" height="13" fill="var(--paper)" stroke={colour} strokeWidth="2.4" />
          <path d="M4.5 4.5l7 7M11.5 4.5l-7 7" stroke={colour} strokeWidth="2.4" />
        </>
      ) : (
        <>
          <circle
            cx="8"
            cy="8"
            r="6.5"
            fill={state === 'holds' ? colour : 'var(--paper)'}
            stroke={colour}
            strokeWidth="2.4"
          />
          {state === 'thin' && <path d="M8 1.5a6.5 6.5 0 0 1 0 13z" fill={colour} />}
        </>
      )}
    </svg>
  );
}

/** A state as shape and word, with what it rests on. */
export function StateMark({ state, because }: { state: State; because?: string }) {
  return (
    <span style={{ color: `var(--${state})` }}>
      <span style={{ verticalAlign: '-2px', marginRight: 6 }}>
        <StateShape state={state} />
      </span>
      <strong>{words[state]}</strong>
      {because && <span style={{ color: 'var(--ink)' }}>, {withMinus(because)}</span>}
    </span>
  );
}

export function stateWord(state: State): string {
  return words[state];
}
