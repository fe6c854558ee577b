import type { LinkView } from '@kivram/contract';
import { poeWords, type EndPrediction, type LinkPrediction } from '@kivram/core';
import type { ReactNode } from 'react';
import { Facing } from '../parts/Facing';
import { Figure } from '../parts/Figure';
import { Rate } from '../parts/Rate';

/** What follows from the plan at both ends: power, level, margin, step. */
export function Levels({ prediction, view }: { prediction: LinkPrediction; view: LinkView }) {
  const limits = { near: prediction.near.eirpLimitDbm, far: prediction.far.eirpLimitDbm };
  const limitDbm = limits.near;
  const { lawKnown } = prediction.near;
  const limitText = !lawKnown
    ? 'the limit is not known here'
    : limitDbm === undefined
      ? 'limit none: not allowed'
      : `limit ${limitDbm} dBm`;
  const ends = [view.near, view.far];
  const each = (of: (end: EndPrediction) => ReactNode) => ({
    near: of(prediction.near),
    far: of(prediction.far),
  });
  const over = (e: EndPrediction): boolean => e.eirpLimitDbm !== undefined && e.eirpDbm > e.eirpLimitDbm + 0.05;
  return (
    <Facing
      near="Near end"
      far="Far end"
      air="what follows"
      rows={[
        {
          key: 'eirp',
          name: `EIRP, ${limitText}`,
          ...each((e) => <Figure value={e.eirpDbm} unit="dBm" />),
          broken: (lawKnown && limitDbm === undefined) || over(prediction.near) || over(prediction.far),
        },
        { key: 'level', name: <strong>Level expected</strong>, ...each((e) => <LevelFigure end={e} />) },
        { key: 'noise', name: 'Noise', ...each((e) => <Figure value={e.noiseDbm} unit="dBm" />) },
        {
          key: 'margin',
          name: 'Margin before it drops',
          ...each((e) => <Figure value={e.marginDb} unit="dB" signed />),
        },
        {
          key: 'mcs',
          name: 'Modulation',
          ...each((e) => (e.step ? <span className="figure">{e.step.name}</span> : 'none')),
        },
        { key: 'rate', name: 'Rate on air', ...each((e) => <Rate mbps={e.step?.phyRateMbps} />) },
        {
          key: 'port',
          name: 'Ethernet port',
          near: <Figure value={ends[0]?.model.ethernetMbps} unit="Mbit/s" digits={0} />,
          far: <Figure value={ends[1]?.model.ethernetMbps} unit="Mbit/s" digits={0} />,
        },
        {
          key: 'poe',
          name: 'Power over the cable',
          near: ends[0] && poeWords[ends[0].model.poe],
          far: ends[1] && poeWords[ends[1].model.poe],
        },
      ]}
    />
  );
}

function LevelFigure({ end }: { end: EndPrediction }) {
  return (
    <strong>
      <Figure value={end.rslDbm} unit="dBm" />
      {end.overloaded && <span style={{ color: 'var(--fails)' }}> overloads the receiver</span>}
    </strong>
  );
}
