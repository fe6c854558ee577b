import { routes } from '@kivram/contract/routes';
import type { LinkView } from '@kivram/contract/views/link';
import { aimByEye } from '@kivram/core/aiming/eye';
import type { AngleSource } from '@kivram/core/aiming/reading';
import { ends } from '@kivram/core/budget/plan';
import type { LinkPrediction } from '@kivram/core/budget/prediction';
import { Button, Radio, Select } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { useState } from 'react';
import { Facing } from '../parts/Facing';
import { CompassFigure } from '../parts/CompassFigure';
import { Figure } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { useChange, useMay } from '../queries';
import { Working } from '../parts/Only';
import { isSourceChosen, SourceButton, useLevelSources } from '../levels/SourceButton';
import { Alone } from './Alone';

const sources: { value: AngleSource; label: string }[] = [
  { value: 'phone', label: 'a phone on the antenna' },
  { value: 'scale', label: 'the scale on the mount, a tap per notch' },
  { value: 'none', label: 'nothing: time and level only' },
];

/** What to know before turning anything, and how the angle will be known. */
export function StartAim({ view, prediction }: { view: LinkView; prediction: LinkPrediction }) {
  const { near, far, link } = view;
  const isShaft = link.pathKind === 'shaft';
  // As this link was aimed last, else as this browser was used last.
  const [usual, setUsual] = useLocalStorage<AngleSource>({
    key: 'kivram-angle',
    defaultValue: 'phone',
    getInitialValueInEffect: false,
  });
  const last = view.alignment;
  const [nearSource, setNear] = useState<AngleSource>(last?.nearSource ?? usual);
  const [farSource, setFar] = useState<AngleSource>(last?.farSource ?? usual);
  const levels = useLevelSources(link.id).data;
  const unchosen = levels ? ends.filter((end) => !isSourceChosen(levels[end])) : [];
  const [order, setOrder] = useState('endByEnd');
  const start = useChange(routes.startAlignment, { linkId: link.id });
  const eye = {
    near: aimByEye(near.model.beamWidth, prediction.distanceM),
    far: aimByEye(far.model.beamWidth, prediction.distanceM),
  };
  const eyeText = (end: 'near' | 'far') => (
    <span>
      {eye[end].enough ? 'enough here' : 'not enough'}: costs about <Figure value={eye[end].lossDb} unit="dB" />
    </span>
  );
  const may = useMay(link.jobId);
  const select = (end: 'near' | 'far', value: AngleSource, set: (source: AngleSource) => void) =>
    may.onlyReads ? (
      sources.find((source) => source.value === value)?.label
    ) : (
      <Select
        aria-label={`How the angle is known at the ${end} end`}
        data={sources}
        value={value}
        onChange={(v) => {
          if (!v) return;
          set(v as AngleSource);
          setUsual(v as AngleSource);
        }}
        allowDeselect={false}
        maw={320}
      />
    );
  return (
    <section>
      <h2>Aim</h2>
      <Facing
        near={`Near: ${near.place.name}`}
        far={`Far: ${far.place.name}`}
        rows={[
          ...(isShaft
            ? []
            : [
                {
                  key: 'compass',
                  name: <strong>Bearing by compass</strong>,
                  near: <CompassFigure end={near} azimuthDeg={prediction.near.azimuthDeg} />,
                  far: <CompassFigure end={far} azimuthDeg={prediction.far.azimuthDeg} />,
                },
                {
                  key: 'bearing',
                  name: 'from true north',
                  near: <Figure value={prediction.near.azimuthDeg} unit="°" />,
                  far: <Figure value={prediction.far.azimuthDeg} unit="°" />,
                },
              ]),
          {
            key: 'tilt',
            name: 'Tilt, up is +',
            near: <Figure value={prediction.near.tiltDeg} unit="°" signed />,
            far: <Figure value={prediction.far.tiltDeg} unit="°" signed />,
          },
          {
            key: 'target',
            name: <strong>Level to reach</strong>,
            near: <Figure value={prediction.near.rslDbm} unit="dBm" />,
            far: <Figure value={prediction.far.rslDbm} unit="dBm" />,
          },
          { key: 'eye', name: 'Aiming by eye', near: eyeText('near'), far: eyeText('far') },
          {
            key: 'source',
            name: 'Angle told by',
            near: select('near', nearSource, setNear),
            far: select('far', farSource, setFar),
          },
          {
            key: 'level',
            name: 'Level told by',
            near: <SourceButton view={view} end="near" />,
            far: <SourceButton view={view} end="far" />,
          },
        ]}
      />
      <Alone view={view} prediction={prediction} />
      <Working jobId={link.jobId}>
        <Radio.Group value={order} onChange={setOrder} label="Order" mt="md">
          <div className="row">
            <Radio value="endByEnd" label="near end, then far end" />
            <Radio value="axisByAxis" label="both left-right, then both up-down" />
          </div>
        </Radio.Group>
      </Working>
      <p className="caution">
        Stand beside or behind the antenna, never in the beam.{' '}
        {isShaft
          ? 'In a shaft only with the lift or hoist firm, the car locked off.'
          : 'Two hands for the ladder: let the tone lead you.'}{' '}
        Local codes and licensed practice come first.
      </p>
      <Problem error={start.error} />
      <Working jobId={link.jobId}>
        {unchosen.length > 0 && (
          <p className="caution">
            Choose first what tells the level at the {unchosen.join(' and the ')} end: the radio itself, or you, who
            read it off its page.
          </p>
        )}
        <Button
          size="lg"
          loading={start.isPending}
          disabled={unchosen.length > 0}
          onClick={() => start.mutate({ nearSource, farSource, order })}
        >
          Begin to aim
        </Button>
      </Working>
    </section>
  );
}
