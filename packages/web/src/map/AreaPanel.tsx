import { hiddenStep, notLooked, sightSteps } from '@kivram/core/terrain/visibleArea';
import { Button, Select } from '@mantine/core';
import { proxy, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import { Figure, Height } from '../parts/Figure';
import { numberIn, NumberField, type TypedNumber } from '../parts/NumberField';
import { Problem } from '../parts/Problem';
import { kmPerUnit, metresPerUnit, unitSuffix } from '../path/ticks';
import { useTerrain } from '../queries';
import { useSettings } from '../settings';
import type { Overlay } from './JobMap';
import type { AreaAnswer, AreaWorker } from './visibleArea.worker';
import type { MapJob } from './mapJob';

const stepColours = ['#1d6a35', '#6fae3d', '#d9a520', '#c46a1b'] as const;
const hiddenColour = '#5b6166';
const stepWords = [...sightSteps.map((s) => s.words), 'behind more than that'];

interface Props {
  job: MapJob;
  onOverlay(overlay: Overlay | null): void;
}

/** Where could the other end stand: everything that is seen from a mast, computed in a worker. */
export function AreaPanel({ job, onOverlay }: Props) {
  const { units } = useSettings();
  const perUnit = metresPerUnit(units);
  const terrain = useTerrain();
  const sites = job.places.filter((p) => p.kind === 'site');
  const [mastId, setMastId] = useState<string | null>(sites[0]?.id ?? null);
  const [mastM, setMastM] = useState<TypedNumber>(12);
  const [targetM, setTargetM] = useState<TypedNumber>(6);
  const [radiusKm, setRadiusKm] = useState<TypedNumber>(5);
  const [band, setBand] = useState('5800');
  const [share, setShare] = useState<number | null>(null);
  const [answer, setAnswer] = useState<AreaAnswer | null>(null);
  const [error, setError] = useState<unknown>(null);
  const worker = useRef<Worker | null>(null);
  useEffect(() => () => worker.current?.terminate(), []);

  const others = job.places.filter((p) => p.id !== mastId);
  const mast = job.places.find((p) => p.id === mastId);
  const clear = (): void => {
    setAnswer(null);
    onOverlay(null);
  };
  const giveUp = (): void => {
    worker.current?.terminate();
    worker.current = null;
    setShare(null);
  };
  const start = async (): Promise<void> => {
    if (!mast) return;
    clear();
    setError(null);
    setShare(0);
    const made = new Worker(new URL('./visibleArea.worker.ts', import.meta.url), { type: 'module' });
    worker.current = made;
    try {
      const found = await wrap<AreaWorker>(made).run(
        {
          mast: { latitudeDeg: mast.latitudeDeg, longitudeDeg: mast.longitudeDeg },
          mastHeightM: numberIn(mastM),
          targetHeightM: numberIn(targetM),
          radiusM: numberIn(radiusKm) * 1000,
          frequencyMHz: Number(band),
          cellM: Math.max(5, terrain.data?.[0]?.cellM ?? 30),
        },
        others.map(({ latitudeDeg, longitudeDeg }) => ({ latitudeDeg, longitudeDeg })),
        proxy(setShare),
      );
      if (worker.current !== made) return;
      setAnswer(found);
      onOverlay(paint(found));
    } catch (problem) {
      setError(problem);
    }
    giveUp();
  };
  const height = (label: string, value: TypedNumber, set: (m: TypedNumber) => void) => (
    <NumberField
      label={label}
      size="sm"
      w={165}
      unit={unitSuffix(units)}
      perUnit={perUnit}
      digits={1}
      value={value}
      onChange={set}
      error={numberIn(value) >= 0 && numberIn(value) <= 300 ? undefined : 'From 0 to 300 m'}
    />
  );
  const within = numberIn(radiusKm) >= 0.2 && numberIn(radiusKm) <= 60;
  const ready = within && [mastM, targetM].every((m) => numberIn(m) >= 0 && numberIn(m) <= 300);
  return (
    <section className="map-panel">
      <h2>Where could it stand</h2>
      <Select
        label="Seen from"
        size="sm"
        data={sites.map((p) => ({ value: p.id, label: p.name }))}
        value={mastId}
        onChange={setMastId}
        allowDeselect={false}
      />
      <div className="row" style={{ alignItems: 'flex-end' }}>
        {height('Mast above ground', mastM, setMastM)}
        {height('Other antenna', targetM, setTargetM)}
        <NumberField
          label="Radius"
          size="sm"
          w={165}
          unit={units === 'metric' ? 'km' : 'mi'}
          perUnit={kmPerUnit(units)}
          digits={2}
          value={radiusKm}
          onChange={setRadiusKm}
          error={within ? undefined : 'From 0.2 to 60 km'}
        />
        <Select
          label="Band"
          size="sm"
          w={165}
          data={[
            { value: '450', label: 'licensed, 450 MHz' },
            { value: '2440', label: '2.4 GHz' },
            { value: '5800', label: '5 GHz' },
            { value: '60480', label: '60 GHz' },
          ]}
          value={band}
          onChange={(value) => value && setBand(value)}
          allowDeselect={false}
        />
      </div>
      <div className="row" style={{ marginTop: 8 }}>
        {share === null ? (
          <Button size="sm" onClick={() => void start()} disabled={!mast || !ready}>
            Show what is seen
          </Button>
        ) : (
          <>
            <progress className="map-progress" value={share} aria-label="Computing the visible area" />
            <Button size="sm" variant="default" onClick={giveUp}>
              Give up
            </Button>
          </>
        )}
        {answer && (
          <Button size="sm" variant="default" onClick={clear}>
            Take it off the map
          </Button>
        )}
      </div>
      <Problem error={error} />
      {answer && (
        <>
          <table className="ruled" aria-label="How much of the area is seen">
            <tbody>
              {stepWords.map((words, step) => (
                <tr key={words}>
                  <td>
                    <span className="map-legend" style={{ background: stepColours[step] ?? hiddenColour }} />
                    {words}
                  </td>
                  <td className="right">
                    <Figure value={100 * (answer.shares[step] ?? 0)} unit="%" digits={0} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <h3 style={{ marginTop: 10 }}>Places of this job</h3>
          <ul className="plain">
            {others.map((place, i) => {
              const step = answer.places[i] ?? null;
              return (
                <li key={place.id}>
                  {place.name}:{' '}
                  <span className="soft">{step === null ? 'outside, or no terrain' : stepWords[step]}</span>
                </li>
              );
            })}
          </ul>
          <p className="note">
            Over bare terrain in cells of <Height metres={answer.cellM} />, loss by the worst single edge; trees and
            buildings are not in it.
          </p>
        </>
      )}
    </section>
  );
}

/** The steps as a picture for the map; what was not looked at stays clear. */
function paint({ steps, columns, rows, south, west, north, east }: AreaAnswer): Overlay {
  const canvas = document.createElement('canvas');
  canvas.width = columns;
  canvas.height = rows;
  const context = canvas.getContext('2d');
  const image = new ImageData(columns, rows);
  const rgb = [...stepColours, hiddenColour].map((hex) => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16)));
  steps.forEach((step, i) => {
    if (step === notLooked) return;
    image.data.set([...(rgb[step] ?? []), step === hiddenStep ? 110 : 255], 4 * i);
  });
  context?.putImageData(image, 0, 0);
  return {
    url: canvas.toDataURL(),
    bounds: [
      [south, west],
      [north, east],
    ],
  };
}
