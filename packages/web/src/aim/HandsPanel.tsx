import { routes } from '@kivram/contract/routes';
import type { HandsView, LinkView } from '@kivram/contract/views/link';
import { sweepSeconds } from '@kivram/core/aiming/guide';
import type { MountAxis } from '@kivram/core/aiming/reading';
import type { End } from '@kivram/core/budget/plan';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { call } from '../api';
import { useLevelSources } from '../levels/SourceButton';
import { typeset } from '../parts/Figure';
import { side } from './words';

const tickMs = 100;

/**
 * The installer's hands in the stand-in world: turns and tightens simulated mounts. It is no part of the measuring; on a roof these are
 * your own hands.
 */
export function HandsPanel({ view, running }: { view: LinkView; running: boolean }) {
  const linkId = view.link.id;
  const queries = useQueryClient();
  const key = ['hands', linkId];
  const hands = useQuery({ queryKey: key, queryFn: () => call(routes.getHands, { linkId }) });
  const [end, setEnd] = useState<End>('near');
  const [speed, setSpeed] = useState('1');
  const keep = (result: HandsView): void => void queries.setQueryData(key, result);
  const beam = view[end].model.beamWidth;

  const turn = (axis: MountAxis, direction: number): void => {
    const width = axis === 'azimuth' ? beam.azimuthDeg : beam.elevationDeg;
    const clock = hands.data?.clockSpeed ?? 1;
    const byDeg = (direction * clock * Number(speed) * width * tickMs) / 1000 / sweepSeconds;
    void call(routes.turnMount, { linkId }, { end, axis, byDeg }).then(keep);
  };
  return (
    <aside className="hands" aria-label="Stand-in: the installer's hands">
      <h2>Stand-in: the installer&rsquo;s hands</h2>
      <p className="note">
        No real mount is here, so these buttons turn a simulated one while they are held.{' '}
        {running ? 'The aim view above sees only what radios, phone or your taps tell it.' : ''}
      </p>
      <div className="row">
        <Choice
          label="Which mount"
          options={[
            { value: 'near', label: `near, ${view.near.place.name}` },
            { value: 'far', label: `far, ${view.far.place.name}` },
          ]}
          value={end}
          onChoose={(value) => setEnd(value as End)}
        />
        <Choice
          label="How fast"
          options={[
            { value: '0.25', label: 'a touch' },
            { value: '1', label: 'slowly' },
            { value: '3', label: 'fast' },
          ]}
          value={speed}
          onChoose={setSpeed}
        />
      </div>
      <div className="row hands-buttons">
        {(['azimuth', 'tilt'] as const).flatMap((axis) =>
          ([-1, 1] as const).map((direction) => (
            <HoldButton
              key={`${axis} ${direction}`}
              label={`turn ${side(axis, direction)}`}
              onTick={() => turn(axis, direction)}
            />
          )),
        )}
        <button type="button" onClick={() => void call(routes.tightenMount, { linkId }, { end }).then(keep)}>
          tighten the bolts
        </button>
      </div>
      <RadioPage linkId={linkId} end={end} />
      {hands.data && (
        <p className="figure">
          scale at the {end} mount: left-right {typeset(hands.data[end].azimuthDeg, 1)}°, up-down{' '}
          {typeset(hands.data[end].tiltDeg, 1)}°, a notch every {hands.data.notchDeg[end].azimuth}° and{' '}
          {hands.data.notchDeg[end].tilt}°
        </p>
      )}
    </aside>
  );
}

/** What the radio's own page shows, where a person is to read it: by typing or by its log. */
function RadioPage({ linkId, end }: { linkId: string; end: End }) {
  const way = useLevelSources(linkId).data?.[end].way;
  const isRead = way === 'typed' || way === 'table';
  const page = useQuery({
    queryKey: ['standin-page', linkId, end],
    queryFn: () => call(routes.standinPage, { linkId, end }),
    enabled: isRead,
    refetchInterval: 300,
  });
  if (!isRead || !page.data) return null;
  const { rslDbm, log } = page.data;
  return (
    <>
      <p className="figure" data-testid="radio-page">
        the {end} radio&rsquo;s own page shows {rslDbm === null ? 'no link' : `${typeset(rslDbm, 0)} dBm`}
      </p>
      {way === 'table' && (
        <details>
          <summary>what it has noted, a line a second</summary>
          <textarea
            readOnly
            rows={6}
            aria-label={`What the ${end} radio has noted`}
            value={log.map(({ at, rslDbm: dbm }) => `${at},${dbm === null ? 'no link' : dbm.toFixed(0)}`).join('\n')}
          />
        </details>
      )}
    </>
  );
}

interface ChoiceProps {
  label: string;
  options: { value: string; label: string }[];
  value: string;
  onChoose(value: string): void;
}

/** One of a few, as buttons: the arrow keys belong to the taps of the aim view, also after a choice. */
function Choice({ label, options, value, onChoose }: ChoiceProps) {
  return (
    <div role="group" aria-label={label} className="hands-choice">
      {options.map((option) => (
        <button
          key={option.value}
          type="button"
          aria-pressed={option.value === value}
          onClick={() => onChoose(option.value)}
        >
          {option.label}
        </button>
      ))}
    </div>
  );
}

/** Acts ten times a second while it is held, by pointer or by space bar. */
function HoldButton({ label, onTick }: { label: string; onTick(): void }) {
  const timer = useRef<number | undefined>(undefined);
  const tick = useRef(onTick);
  useEffect(() => {
    tick.current = onTick;
  });
  const stop = (): void => {
    window.clearInterval(timer.current);
    timer.current = undefined;
  };
  const start = (): void => {
    stop();
    tick.current();
    timer.current = window.setInterval(() => tick.current(), tickMs);
  };
  useEffect(() => stop, []);
  return (
    <button
      type="button"
      onPointerDown={start}
      onPointerUp={stop}
      onPointerLeave={stop}
      onPointerCancel={stop}
      onKeyDown={(event) => event.key === ' ' && !event.repeat && start()}
      onKeyUp={(event) => event.key === ' ' && stop()}
      onBlur={stop}
      onContextMenu={(event) => event.preventDefault()}
    >
      {label}
    </button>
  );
}
