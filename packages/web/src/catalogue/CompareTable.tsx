import type { CatalogueEntry } from '@kivram/contract/views/gear';
import { bandWords, pairingKindWords, rateSteps, type Model } from '@kivram/core/gear/model';
import { poeWords } from '@kivram/core/gear/poe';
import { protocolWords, radioKinds } from '@kivram/core/radio/kinds';
import { withMinus } from '@kivram/core/units/number';
import { widthsText, widthText } from '../parts/channelText';

/** What is compared, with how it is said; what a maker does not say is left blank. */
export const specLines: readonly (readonly [label: string, says: (spec: Model) => string | undefined])[] = [
  ['Kind', (m) => `${radioKinds[m.phy].words}, ${bandWords[m.band]}`],
  ['Tunes', (m) => `${m.lowestMHz} to ${m.highestMHz} MHz`],
  ['Widths', (m) => widthsText(m.widthsMHz)],
  ['Streams', (m) => String(m.streams)],
  ['Speaks', (m) => m.protocols.map((p) => protocolWords[p]).join(', ')],
  ['Power', (m) => `${withMinus(String(m.leastConductedDbm))} to ${m.mostConductedDbm} dBm`],
  ['Antenna gain', (m) => `${m.antennaGainDbi} dBi`],
  ['Most EIRP', (m) => `${(m.mostConductedDbm + m.antennaGainDbi).toFixed(1)} dBm`],
  ['Beam', (m) => `${m.beamWidth.azimuthDeg}° × ${m.beamWidth.elevationDeg}°`],
  ['Pattern', (m) => (m.pattern ? 'from a file' : 'from the beam widths')],
  ['Slowest step works from', (m) => stepText(m, 'slowest')],
  ['Fastest step', (m) => stepText(m, 'fastest')],
  ['Overloads above', (m) => withMinus(`${m.overloadDbm} dBm`)],
  ['Data port', (m) => `${m.ethernetMbps} Mbit/s`],
  ['Other ports', (m) => m.otherPortsMbps?.map((mbps) => `${mbps} Mbit/s`).join(', ')],
  ['Supply', (m) => poeWords[m.poe] + (m.poeWatts === undefined ? '' : `, ${m.poeWatts} W`)],
  ['Stations at most', (m) => m.mostStations?.toString()],
  ['Point-to-point only', (m) => (m.hasPtpOnly ? 'can be switched' : 'no such option')],
  ['Pairing', (m) => m.pairingKind && pairingKindWords[m.pairingKind]],
  ['Out of the box at', (m) => m.factoryAddress],
  ['Starts in', (m) => measured(m.bootS, 's')],
  ['Saves in', (m) => measured(m.saveS, 's')],
  ['Weight', (m) => measured(m.weightKg, 'kg')],
  ['Price', (m) => m.price && `${m.price.amount} ${m.price.currency}`],
];

function measured(value: number | undefined, unit: string): string | undefined {
  return value === undefined ? undefined : `${value} ${unit}`;
}

/** The first step, or the fastest, in the widest channel, with its level and its rate on air. */
function stepText(model: Model, which: 'slowest' | 'fastest'): string | undefined {
  const widthMHz = Math.max(...model.widthsMHz);
  const steps = rateSteps(model, widthMHz);
  const step =
    which === 'slowest'
      ? steps[0]
      : steps.reduce((best, s) => (s.phyRateMbps > best.phyRateMbps ? s : best), steps[0] as (typeof steps)[number]);
  if (!step) return undefined;
  const rate = which === 'fastest' ? `${step.phyRateMbps.toFixed(0)} Mbit/s on air from ` : '';
  return withMinus(`${rate}${step.sensitivityDbm} dBm in ${widthText(widthMHz)}`);
}

/** Spec sheets side by side; lines in which they differ are marked. */
export function CompareTable({ entries }: { entries: CatalogueEntry[] }) {
  return (
    <section style={{ marginTop: 28 }}>
      <h2>Side by side</h2>
      <div className="scroll" tabIndex={0} role="region" aria-label="Spec sheets side by side">
        <table className="ruled">
          <thead>
            <tr>
              <th>
                <span className="visually-hidden">What</span>
              </th>
              {entries.map(({ spec }) => (
                <th key={spec.id} scope="col">
                  {spec.maker} {spec.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {specLines.map(([label, says]) => {
              const values = entries.map(({ spec }) => says(spec) ?? '');
              if (values.every((value) => !value)) return null;
              const differ = new Set(values).size > 1;
              return (
                <tr key={label}>
                  <th scope="row">
                    {label}
                    {differ && <span title="they differ"> ≠</span>}
                  </th>
                  {values.map((value, i) => (
                    <td key={i} className={differ ? 'figure' : 'figure soft'}>
                      {value}
                    </td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}
