import { Against } from './Against';
import { channelCautions } from './cautions';
import { perChainDbm } from '@kivram/core/budget/hop';
import type { LinkPlan } from '@kivram/core/budget/plan';
import { streamsOf } from '@kivram/core/budget/polarisationMatch';
import type { EndPrediction, LinkPrediction } from '@kivram/core/budget/prediction';
import { poeWords } from '@kivram/core/gear/poe';
import { sameDb } from '@kivram/core/units/tolerance';
import type { ReactNode } from 'react';
import { Facing } from '../parts/Facing';
import { Figure, typeset } from '../parts/Figure';
import { Rate } from '../parts/Rate';

/** What follows from the plan at both ends: power, level, margin, step; and by how much that differs from the plan in place. */
export function Levels({
  plan: { near, far },
  prediction,
  before,
}: {
  plan: LinkPlan;
  prediction: LinkPrediction;
  /** of the plan in place, where something else is tried */
  before: LinkPrediction | null;
}) {
  const chains = { near: streamsOf(near), far: streamsOf(far) };
  /** By the antenna of each end the law may allow another power. */
  const limitText = ({ lawRefusal, eirpLimitDbm }: EndPrediction): string =>
    lawRefusal
      ? 'not allowed'
      : eirpLimitDbm === undefined
        ? 'the limit is not known here'
        : `limit ${typeset(eirpLimitDbm, Number.isInteger(eirpLimitDbm) ? 0 : 1)} dBm`;
  const each = (of: (end: EndPrediction) => ReactNode) => ({ near: of(prediction.near), far: of(prediction.far) });
  const figure = (of: (end: EndPrediction) => number, unit: string, signed = false) => ({
    near: <Changed now={of(prediction.near)} was={before && of(before.near)} unit={unit} signed={signed} />,
    far: <Changed now={of(prediction.far)} was={before && of(before.far)} unit={unit} signed={signed} />,
  });
  const isOver = ({ lawRefusal, eirpDbm, eirpLimitDbm }: EndPrediction): boolean =>
    !!lawRefusal || eirpDbm > (eirpLimitDbm ?? Infinity) + sameDb;
  const eirp = figure((e) => e.eirpDbm, 'dBm');
  const level = figure((e) => e.rslDbm, 'dBm');
  const overloads = <span style={{ color: 'var(--fails)' }}> overloads the receiver</span>;
  return (
    <>
      <Facing
        near="Near end"
        far="Far end"
        air="what follows"
        rows={[
          {
            key: 'eirp',
            name: 'EIRP',
            near: (
              <>
                <span className="note">{limitText(prediction.near)}</span> {eirp.near}
              </>
            ),
            far: (
              <>
                {eirp.far} <span className="note">{limitText(prediction.far)}</span>
              </>
            ),
            broken: isOver(prediction.near) || isOver(prediction.far),
          },
          {
            key: 'level',
            name: <strong>Level expected</strong>,
            near: (
              <strong>
                {level.near}
                {prediction.near.overloaded && overloads}
              </strong>
            ),
            far: (
              <strong>
                {level.far}
                {prediction.far.overloaded && overloads}
              </strong>
            ),
          },
          ...(chains.near > 1 || chains.far > 1
            ? [
                {
                  key: 'chain',
                  name: 'Power in each chain',
                  near: <Figure value={perChainDbm(near.conductedDbm, chains.near)} unit="dBm" />,
                  far: <Figure value={perChainDbm(far.conductedDbm, chains.far)} unit="dBm" />,
                },
              ]
            : []),
          { key: 'noise', name: 'Noise', ...figure((e) => e.noiseDbm, 'dBm') },
          { key: 'margin', name: 'Margin before it drops', ...figure((e) => e.marginDb, 'dB', true) },
          {
            key: 'mcs',
            name: 'Modulation',
            ...each((e) => (e.step ? <span className="figure">{e.step.name}</span> : 'none')),
          },
          {
            key: 'rate',
            name: 'Rate on air',
            ...each((e) => (
              <Rate
                mbps={e.step?.phyRateMbps}
                beside={[prediction.near.step?.phyRateMbps, prediction.far.step?.phyRateMbps]}
              />
            )),
          },
          {
            key: 'port',
            name: 'Ethernet port',
            near: <Figure value={near.model.ethernetMbps} unit="Mbit/s" digits={0} />,
            far: <Figure value={far.model.ethernetMbps} unit="Mbit/s" digits={0} />,
          },
          {
            key: 'poe',
            name: 'Power over the cable',
            near: poeWords[near.model.poe],
            far: poeWords[far.model.poe],
          },
        ]}
      />
      {channelCautions(prediction).map((words) => (
        <p className="note" key={words}>
          {words}
        </p>
      ))}
    </>
  );
}

/** A figure with what it differs by from the plan in place. */
function Changed({ now, was, unit, signed }: { now: number; was: number | null; unit: string; signed: boolean }) {
  return (
    <span>
      <Figure value={now} unit={unit} signed={signed} />
      <Against now={now} was={was} digits={1} />
    </span>
  );
}
