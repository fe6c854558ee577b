import type { MarkBody } from '@kivram/contract/requests/work';
import { crewWords, type CrewWord } from '@kivram/core/aiming/aimGuide';
import { ends, otherEnd, type End } from '@kivram/core/budget/plan';
import type { AimFeed } from './AimFeed';
import type { Place } from './place';
import { callWords, heardWords } from './words';

const places: { value: Place; label: string }[] = [
  { value: 'near', label: 'at the near end' },
  { value: 'far', label: 'at the far end' },
  { value: 'both', label: 'alone' },
];

interface Props {
  feed: AimFeed;
  device: string;
  place: Place;
  onPlace(place: Place): void;
  /** sends what is called to the other end; null for who only reads */
  send: ((tap: Pick<MarkBody, 'kind' | 'end'>) => void) | null;
}

/** Two ends, one crew: who is where, and the three things that they have to say to each other. */
export function CrewPanel({ feed, device, place, onPlace, send }: Props) {
  const others = feed.present.filter((one) => one.device !== device);
  return (
    <section aria-label="The crew" className="crew">
      <div role="group" aria-label="Where you are" className="hands-choice">
        {places.map(({ value, label }) => (
          <button key={value} type="button" aria-pressed={value === place} onClick={() => onPlace(value)}>
            {label}
          </button>
        ))}
      </div>
      {place !== 'both' && send && (
        <div className="aim-pair">
          {crewWords.map((word) => (
            <button
              key={word}
              type="button"
              className={word === 'hold' ? 'crew-hold' : ''}
              onClick={() => send({ kind: word, end: place })}
            >
              {callWords[word]}
            </button>
          ))}
        </div>
      )}
      <p className="note" data-testid="crew">
        {others.length
          ? others.map(({ name, end }) => `${name}, ${end ? `${end} end` : 'looking on'}`).join('; ')
          : 'Nobody else has this alignment open.'}
      </p>
    </section>
  );
}

/** What the other end calls, large: it stands until that end calls something else, or asks to go on. */
export function Called({ feed, place }: { feed: AimFeed; place: Place }) {
  const from: readonly End[] = place === 'both' ? ends : [otherEnd(place)];
  const said = from.flatMap((end) => {
    const word = feed.calls[end]?.word;
    return word && isLoud(word, feed, end) ? [{ end, word }] : [];
  });
  return said.map(({ end, word }) => (
    <p key={end} className={`crew-called ${end}`} role="alert" data-call={word}>
      {heardWords(end, word)}
    </p>
  ));
}

/** "Go" is old news after a moment; "hold" holds. */
const goShownS = 8;

function isLoud(word: CrewWord, feed: AimFeed, end: End): boolean {
  if (word !== 'go') return true;
  const nowS = feed.latest[end]?.tS ?? 0;
  return nowS - (feed.calls[end]?.tS ?? 0) < goShownS;
}
