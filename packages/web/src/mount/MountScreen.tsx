import type { Link } from '@kivram/contract/entities/link';
import { routes } from '@kivram/contract/routes';
import type { LinkEnd } from '@kivram/contract/views/link';
import { planOf, type End } from '@kivram/core/budget/plan';
import type { EndPrediction } from '@kivram/core/budget/prediction';
import { polarisationWords } from '@kivram/core/path/polarisation';
import { dateText } from '@kivram/core/units/moment';
import { Button } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useLinkContext } from '../link/LinkLayout';
import { useLinkPrediction } from '../link/useLinkPrediction';
import { Facing } from '../parts/Facing';
import { CompassFigure } from '../parts/CompassFigure';
import { Figure, Height } from '../parts/Figure';
import { KeepOut } from '../parts/KeepOut';
import { Problem } from '../parts/Problem';
import { Tick } from '../parts/Tick';
import { useChange, useMay } from '../queries';
import { EndsNotes } from '../visits/EndsNotes';

const cautions = [
  'Local codes and licensed practice come first; where they differ from what stands here, they hold.',
  'Ladder on firm ground, 4 up to 1 out, tied; three points of contact. Roof edge: harness. Never alone.',
  'Not in wind, ice, rain or thunder. Look for overhead power lines before the ladder or a mast goes up.',
  'Before drilling: no cables or pipes behind the wall. Mains by licensed people only.',
  'Masts only with rigging training; lift shafts only with the lift firm, the lift locked off.',
  'Stay out of the beam of a powered antenna, at least the distance given below.',
];

/** A shaft has no ladder on firm ground: it has a car that moves. */
const shaftCautions = [
  'Only with the lift or hoist firm: the car locked off before anyone enters the pit or stands on its roof, and tried that it is.',
  'Harness over the pit and on the car roof. Nothing loose above anyone. Never alone.',
];

/** Before and while mounting: the cautions, and what each mount must be set to. */
export function MountScreen() {
  const { view } = useLinkContext();
  const prediction = useLinkPrediction();
  const plan = useMemo(() => planOf(view), [view]);
  const { near, far, link } = view;
  const isShaft = link.pathKind === 'shaft';
  const each = (of: (predicted: EndPrediction, end: End) => React.ReactNode) => ({
    near: prediction && of(prediction.near, 'near'),
    far: prediction && of(prediction.far, 'far'),
  });
  const both = (of: (end: LinkEnd) => React.ReactNode) => ({ near: of(near), far: of(far) });
  return (
    <>
      <section className="caution" aria-label="Cautions">
        <strong>Before anyone climbs</strong>
        <ul style={{ margin: '4px 0', paddingLeft: 20 }}>
          {(isShaft ? [...shaftCautions, ...cautions.filter((c) => !c.startsWith('Ladder'))] : cautions).map(
            (caution) => (
              <li key={caution}>{caution}</li>
            ),
          )}
        </ul>
      </section>
      <Facing
        near={`Near: ${near.place.name}`}
        far={`Far: ${far.place.name}`}
        rows={[
          { key: 'model', name: 'Model', ...both((e) => `${e.model.maker} ${e.model.name}`) },
          { key: 'height', name: 'Mount above ground', ...both((e) => <Height metres={e.radio.mountHeightM} />) },
          ...(isShaft
            ? []
            : [
                {
                  key: 'compass',
                  name: <strong>Point to, by compass</strong>,
                  ...each((e, end) => <CompassFigure end={view[end]} azimuthDeg={e.azimuthDeg} />),
                },
                {
                  key: 'bearing',
                  name: 'from true north',
                  ...each((e) => <Figure value={e.azimuthDeg} unit="°" digits={1} />),
                },
              ]),
          {
            key: 'tilt',
            name: 'Tilt, up is +',
            ...each((e) => <Figure value={e.tiltDeg} unit="°" digits={1} signed />),
          },
          {
            key: 'polarisation',
            name: 'Polarisation',
            ...both((e) => polarisationWords[e.radio.polarisation]),
            rule: 'match',
            broken: near.radio.polarisation !== far.radio.polarisation,
          },
          {
            key: 'beam',
            name: 'Beam, left-right by up-down',
            ...both((e) => (
              <span className="figure">
                {e.model.beamWidth.azimuthDeg}° × {e.model.beamWidth.elevationDeg}°
              </span>
            )),
          },
          {
            key: 'keepOut',
            name: 'Keep out of the beam',
            near: prediction && <KeepOut plan={plan} end="near" />,
            far: prediction && <KeepOut plan={plan} end="far" />,
          },
          {
            key: 'up',
            name: 'Up',
            near: <Up end="near" link={link} mountedAt={near.radio.mountedAt} />,
            far: <Up end="far" link={link} mountedAt={far.radio.mountedAt} />,
          },
        ]}
      />
      <p className="note">
        Keep-out distance: where the beam falls under the general public&rsquo;s limits, ICNIRP 2020 and 47 CFR 1.1310,
        the stricter of the two, and never under 20 cm.{' '}
        {isShaft
          ? 'The near antenna points straight up, the far one straight down.'
          : 'The compass shows magnetic bearings; steel nearby turns it further.'}
      </p>
      <EndsNotes view={view} />
    </>
  );
}

function Up({ end, link, mountedAt }: { end: End; link: Link; mountedAt: string | null }) {
  const [read, setRead] = useState(false);
  const change = useChange(routes.mount, { linkId: link.id });
  const may = useMay(link.jobId);
  if (!may.work) return <span>{mountedAt ? `since ${dateText(mountedAt)}` : 'not up yet'}</span>;
  const send = (mounted: boolean): void => change.mutate({ end, mounted, cautionsRead: true });
  return (
    <div style={{ width: 'fit-content' }}>
      {mountedAt ? (
        <div className="row">
          <span>since {dateText(mountedAt)}</span>
          <Button size="xs" variant="default" onClick={() => send(false)}>
            Taken down
          </Button>
        </div>
      ) : (
        <>
          <Tick label={`Cautions read (${end} end)`} checked={read} set={setRead} />
          <Button size="sm" mt={6} disabled={!read} onClick={() => send(true)}>
            The {end} end is up
          </Button>
        </>
      )}
      <Problem error={change.error} />
    </div>
  );
}
