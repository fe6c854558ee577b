import { routes, type LinkEnd } from '@kivram/contract';
import { earthBulgeM, formatDms, metresFrom, type EndPrediction } from '@kivram/core';
import { NumberInput } from '@mantine/core';
import { useState } from 'react';
import { useLinkContext } from '../link/LinkLayout';
import { Facing } from '../parts/Facing';
import { Figure, Height, Length, typeset } from '../parts/Figure';
import { Problem } from '../parts/Problem';
import { useChange } from '../queries';
import { useSettings } from '../settings';
import { PlaceEditor } from './PlaceEditor';
import { SideView } from './SideView';

/** The geometry of a link: where, how far, which way, how high. */
export function PathScreen() {
  const { view, prediction } = useLinkContext();
  const state = view.state.steps.find((s) => s.step === 'path');
  const { near, far } = view;
  const both = (of: (end: LinkEnd) => React.ReactNode) => ({ near: of(near), far: of(far) });
  const each = (of: (end: EndPrediction) => React.ReactNode) => ({
    near: prediction && of(prediction.near),
    far: prediction && of(prediction.far),
  });
  return (
    <>
      {!prediction && <Problem error={new Error(state?.because)} />}
      {prediction && (
        <>
          <SideView prediction={prediction} near={near} far={far} />
          <div className="row" style={{ margin: '8px 0 16px', justifyContent: 'center', columnGap: 28 }}>
            <span>
              <span className="soft">along the ground</span> <Length metres={prediction.distanceM} />
            </span>
            <span>
              <span className="soft">antenna to antenna</span> <Length metres={prediction.slantRangeM} />
            </span>
            <span>
              <span className="soft">keep clear at the middle, 60 % of the first Fresnel zone</span>{' '}
              <Height metres={0.6 * prediction.fresnelMidRadiusM} />
            </span>
            <span>
              <span className="soft">bulge of the Earth there</span>{' '}
              <Height metres={earthBulgeM(prediction.distanceM / 2, prediction.distanceM / 2)} />
            </span>
          </div>
        </>
      )}
      <Facing
        near={`Near: ${near.place.name}`}
        far={`Far: ${far.place.name}`}
        rows={[
          {
            key: 'bearing',
            name: 'Bearing, true north',
            ...each((e) => <Figure value={e.azimuthDeg} unit="°" digits={2} />),
          },
          {
            key: 'tilt',
            name: 'Tilt, up is +',
            ...each((e) => <Figure value={e.tiltDeg} unit="°" digits={2} signed />),
          },
          {
            key: 'latitude',
            name: 'Latitude',
            ...both((e) => (
              <span className="figure">
                {typeset(e.place.latitudeDeg, 6)}°{' '}
                <span className="soft">{formatDms(e.place.latitudeDeg, 'latitude')}</span>
              </span>
            )),
          },
          {
            key: 'longitude',
            name: 'Longitude',
            ...both((e) => (
              <span className="figure">
                {typeset(e.place.longitudeDeg, 6)}°{' '}
                <span className="soft">{formatDms(e.place.longitudeDeg, 'longitude')}</span>
              </span>
            )),
          },
          { key: 'ground', name: 'Ground above sea', ...both((e) => <Height metres={e.place.groundHeightM} />) },
          { key: 'correct', name: 'Position', ...both((e) => <PlaceEditor place={e.place} />) },
          { key: 'mount', name: 'Mounted above ground', ...both((e) => <MountHeight end={e} key={e.radio.version} />) },
          { key: 'antenna', name: 'Antenna above sea', ...each((e) => <Height metres={e.antennaHeightAslM} />) },
        ]}
      />
      <p className="note">
        Bearings and distance along the WGS84 geodesic; tilt over an Earth of 4/3 its radius. Terrain, trees and
        buildings are not looked at yet: walk the path, or look along it from both ends.
      </p>
    </>
  );
}

/** Editable in place: everything recomputes when it is left. */
function MountHeight({ end }: { end: LinkEnd }) {
  const { units, crewMemberId } = useSettings();
  const factor = units === 'metric' ? 1 : metresFrom('imperial', 1);
  const [value, setValue] = useState<number | string>(Number((end.radio.mountHeightM / factor).toFixed(2)));
  const change = useChange(routes.changeRadio, { radioId: end.radio.id });
  const save = (): void => {
    const mountHeightM = metresFrom(units, Number(value));
    if (value === '' || Math.abs(mountHeightM - end.radio.mountHeightM) < 0.005) return;
    change.mutate({ version: end.radio.version, crewMemberId, mountHeightM });
  };
  return (
    <>
      <NumberInput
        aria-label={`Mounted above ground at ${end.place.name}`}
        value={value}
        onChange={setValue}
        onBlur={save}
        onKeyDown={(event) => event.key === 'Enter' && save()}
        suffix={units === 'metric' ? ' m' : ' ft'}
        min={0}
        w={130}
        size="sm"
      />
      <Problem error={change.error} />
    </>
  );
}
