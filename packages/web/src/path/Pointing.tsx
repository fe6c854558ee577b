import { routes } from '@kivram/contract/routes';
import { fillPath } from '@kivram/contract/routes/route';
import type { LinkView, LinkEnd } from '@kivram/contract/views/link';
import type { End } from '@kivram/core/budget/plan';
import type { EndPrediction, LinkPrediction } from '@kivram/core/budget/prediction';
import { formatDms, type Position } from '@kivram/core/geodesy/coordinates';
import { magneticBearingDeg, magneticDeclination } from '@kivram/core/geodesy/declination';
import { landmarkWords } from '@kivram/core/path/landmark';
import { Button } from '@mantine/core';
import { useIntersection } from '@mantine/hooks';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import { Facing, type FacingRow } from '../parts/Facing';
import { Figure, Height, Length, typeset } from '../parts/Figure';
import { useToday } from '../parts/useToday';
import { useSettings } from '../settings';
import { MountHeight } from './MountHeight';
import { PlaceEditor } from '../place/PlaceEditor';
import { useMay } from '../queries';

const UtmText = lazy(() => import('../parts/UtmText'));

/** UTM, once it is scrolled to: projections are heavy, and this stands far down. */
function Utm({ position }: { position: Position }) {
  const { ref, entry } = useIntersection<HTMLSpanElement>();
  const [seen, setSeen] = useState(false);
  if (entry?.isIntersecting && !seen) setSeen(true);
  return (
    <span ref={ref}>
      {seen && (
        <Suspense fallback="">
          <UtmText position={position} />
        </Suspense>
      )}
    </span>
  );
}

/** Rows that make no sense in a shaft, which points straight up and down. */
const byCompass = ['bearing', 'magnetic', 'landmark'];

interface Props {
  view: LinkView;
  /** with the heights that are being tried */
  prediction: LinkPrediction;
  /** heights that are not kept yet */
  tried: Partial<Record<End, number>>;
}

/** Where to point at each end: bearings, tilt, and something to see on the bearing. */
export function Pointing({ view, prediction, tried }: Props) {
  const may = useMay(view.link.jobId);
  const { units } = useSettings();
  const today = useToday().slice(0, 10);
  const each = (of: (end: LinkEnd, predicted: EndPrediction, side: End) => ReactNode) => ({
    near: of(view.near, prediction.near, 'near'),
    far: of(view.far, prediction.far, 'far'),
  });
  const declination = (end: LinkEnd) => magneticDeclination(end.place, end.place.groundHeightM, today);
  const rows: FacingRow[] = [
    {
      key: 'bearing',
      name: 'Bearing, true north',
      ...each((_end, p) => <Figure value={p.azimuthDeg} unit="°" digits={2} />),
    },
    {
      key: 'magnetic',
      name: 'Compass shows',
      ...each((end, p) => {
        const { declinationDeg } = declination(end);
        return (
          <>
            <Figure value={magneticBearingDeg(p.azimuthDeg, declinationDeg)} unit="°" digits={1} />{' '}
            <span className="soft">
              needle <Figure value={Math.abs(declinationDeg)} unit="°" digits={1} />{' '}
              {declinationDeg < 0 ? 'west' : 'east'}
            </span>
          </>
        );
      }),
    },
    {
      key: 'tilt',
      name: 'Tilt, up is +',
      ...each((_end, p) => <Figure value={p.tiltDeg} unit="°" digits={2} signed />),
    },
    {
      key: 'landmark',
      name: 'On the bearing',
      ...each((_end, _p, side) => {
        const sight = view.landmarks[side];
        if (!sight) return <span className="soft">no landmark is seen within a degree</span>;
        return (
          <>
            {sight.name}, <Length metres={sight.distanceM} />: {landmarkWords(sight)}
            {!sight.terrainKnown && <span className="soft"> (no terrain known: look whether you see it)</span>}
          </>
        );
      }),
    },
    {
      key: 'mount',
      name: 'Mounted above ground',
      ...each((end, _p, side) => (
        <>
          {may.work ? <MountHeight end={end} /> : <Height metres={end.radio.mountHeightM} />}
          {tried[side] !== undefined && (
            <span className="soft">
              trying <Height metres={tried[side]} />
            </span>
          )}
        </>
      )),
    },
    { key: 'antenna', name: 'Antenna above sea', ...each((_end, p) => <Height metres={p.antennaHeightAslM} />) },
    {
      key: 'latitude',
      name: 'Latitude',
      ...each(({ place }) => (
        <>
          <span className="figure">{typeset(place.latitudeDeg, 6)}°</span>{' '}
          <span className="figure soft">{formatDms(place.latitudeDeg, 'latitude')}</span>
        </>
      )),
    },
    {
      key: 'longitude',
      name: 'Longitude',
      ...each(({ place }) => (
        <>
          <span className="figure">{typeset(place.longitudeDeg, 6)}°</span>{' '}
          <span className="figure soft">{formatDms(place.longitudeDeg, 'longitude')}</span>
        </>
      )),
    },
    {
      key: 'utm',
      name: 'UTM',
      ...each(({ place }) => (
        <span className="figure" style={{ whiteSpace: 'normal' }}>
          <Utm position={place} />
        </span>
      )),
    },
    { key: 'ground', name: 'Ground above sea', ...each(({ place }) => <Height metres={place.groundHeightM} />) },
    { key: 'correct', name: 'Position', ...each(({ place }) => <PlaceEditor jobId={view.link.jobId} place={place} />) },
    {
      key: 'card',
      name: 'Aim card, PDF',
      ...each((_end, _p, side) => (
        <Button
          component="a"
          size="sm"
          variant="default"
          href={`${fillPath(routes.aimCard.path, { linkId: view.link.id, end: side })}?units=${units}`}
          download
          aria-label={`Card for the ${side} end`}
        >
          Card
        </Button>
      )),
    },
  ];
  return (
    <section>
      <h2>Where to point</h2>
      <Facing
        near={`Near: ${view.near.place.name}`}
        far={`Far: ${view.far.place.name}`}
        rows={rows.filter((row) => !prediction.ride || !byCompass.includes(row.key))}
      />
      {prediction.ride ? (
        <p className="note">A shaft points straight up from the near end and straight down from the far end.</p>
      ) : (
        <p className="note">
          Bearings along the WGS84 geodesic; the needle by the World Magnetic Model {declination(view.near).model} of{' '}
          {today}
          {declination(view.near).valid ? '' : ', which is out of date'}: steel nearby turns it further. Tilt over an
          Earth of 4/3 its radius. The cards are A6, for a pocket.
        </p>
      )}
    </section>
  );
}
