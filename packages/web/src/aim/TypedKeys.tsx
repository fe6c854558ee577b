import { routes } from '@kivram/contract/routes';
import type { End } from '@kivram/core/budget/plan';
import { useRef, useState } from 'react';
import { call } from '../api';
import { newId } from '../changeId';
import { typeset } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { readTyped } from './typedLevel';

const figures = ['1', '2', '3', '4', '5', '6', '7', '8', '9'] as const;

interface Props {
  alignmentId: string;
  end: End;
  /** the level at which each of the radio's lights comes on; none where figures are typed */
  lightsDbm: readonly number[];
}

/** Levels that somebody reads off the radio's page or lights, or hears from a helper: typed with one thumb, or on a keyboard. */
export function TypedKeys({ alignmentId, end, lightsDbm }: Props) {
  const [text, setText] = useState('');
  const [last, setLast] = useState<number | null>(null);
  const [problem, setProblem] = useState<unknown>(null);
  const sending = useRef(Promise.resolve());
  const tell = (rslDbm: number | null): void => {
    if (rslDbm !== null) setLast(rslDbm);
    setText('');
    setProblem(null);
    const body = { id: newId(), end, rslDbm };
    // One after the other, so that they come in the order in which they were read; what fails is tried once more under the same id.
    const send = (): Promise<unknown> => call(routes.tellLevel, { alignmentId }, body);
    sending.current = sending.current.then(async () => {
      try {
        await send().catch(send);
      } catch (error) {
        setProblem(error);
        // What was typed is not lost; what was typed since comes first.
        if (rslDbm !== null) setText((now) => now || String(-rslDbm));
      }
    });
  };
  const enter = (): void => {
    const read = readTyped(text, last);
    if (read instanceof Error) setProblem(read);
    else tell(read);
  };
  if (lightsDbm.length)
    return (
      <div className="keys" role="group" aria-label={`Lights that are on at the ${end} end`}>
        <div className="aim-pair">
          {[null, ...lightsDbm].map((dbm, lit) => (
            <button key={lit} type="button" onClick={() => tell(dbm)}>
              {lit === 0 ? 'none' : lit}
            </button>
          ))}
        </div>
        <p className="note">Tap how many lights are on, each time you look.</p>
        <Problem error={problem} />
      </div>
    );
  return (
    <form
      className="keys"
      aria-label={`Level read off the radio at the ${end} end`}
      onSubmit={(event) => {
        event.preventDefault();
        enter();
      }}
    >
      <div className="keys-line">
        <span aria-hidden="true">−</span>
        <input
          aria-label="Level as the radio shows it, in dBm"
          inputMode="none"
          autoComplete="off"
          data-lets-arrows
          value={text}
          placeholder={last === null ? '' : typeset(Math.abs(last), 0)}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <span className="unit">dBm</span>
      </div>
      <div className="keys-pad">
        {figures.map((figure) => (
          <button key={figure} type="button" onClick={() => setText(text + figure)}>
            {figure}
          </button>
        ))}
        <button type="button" aria-label="rub out" onClick={() => setText(text.slice(0, -1))}>
          ←
        </button>
        <button type="button" onClick={() => setText(`${text}0`)}>
          0
        </button>
        <button type="submit" className="aim-lock">
          tell
        </button>
      </div>
      <div className="aim-pair">
        <button type="button" disabled={last === null} onClick={() => last !== null && tell(last - 1)}>
          1 weaker
        </button>
        <button type="button" disabled={last === null} onClick={() => tell(last)}>
          the same
        </button>
        <button type="button" disabled={last === null} onClick={() => last !== null && tell(last + 1)}>
          1 stronger
        </button>
        <button type="button" onClick={() => tell(null)}>
          nothing
        </button>
      </div>
      <Problem error={problem} />
    </form>
  );
}
