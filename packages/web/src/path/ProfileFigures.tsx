import type { PathAnalysis } from '@kivram/core/path/analysis';
import { clearanceAt } from '@kivram/core/path/clearance';
import { Figure, Height, Length } from '../parts/Figure';

/** What the pointer asks for, in words and figures. */
export function PointReadout({ analysis, pointerM }: { analysis: PathAnalysis; pointerM: number | null }) {
  const { surface, line, worst } = analysis;
  const d = pointerM ?? worst.distanceM;
  const i = Math.max(
    1,
    surface.distancesM.findIndex((at) => at >= d),
  );
  const inside = Math.min(line.distanceM - 1e-3, Math.max(1e-3, d));
  const { clearanceM, zoneM, zoneShare } = clearanceAt(line, inside, surface.withTreesM[i] ?? 0);
  return (
    <div className="profile-readout" aria-live="polite">
      <span>
        <span className="soft">{pointerM === null ? 'tightest, at' : 'at'}</span> <Length metres={d} />
      </span>
      <span>
        <span className="soft">ground</span> <Height metres={surface.groundM[i] ?? 0} />
      </span>
      <span>
        <span className="soft">clearance</span> <Height metres={clearanceM} />
      </span>
      <span>
        <span className="soft">of the zone</span>{' '}
        <span className="figure">
          {Math.round(100 * zoneShare)}
          <span className="unit">%</span>
        </span>
      </span>
      <span>
        <span className="soft">zone radius</span> <Height metres={zoneM} />
      </span>
    </div>
  );
}

/** The profile as a table: the same eleven points for eyes and ears. */
export function ProfileTable({ analysis }: { analysis: PathAnalysis }) {
  const { surface, line } = analysis;
  const points = Array.from({ length: 11 }, (_, i) => {
    const at = Math.min(line.distanceM - 1e-3, Math.max(1e-3, (i / 10) * line.distanceM));
    const index = Math.max(
      0,
      surface.distancesM.findIndex((d) => d >= at),
    );
    const groundM = surface.groundM[index] ?? 0;
    return { ...clearanceAt(line, at, surface.withTreesM[index] ?? groundM), groundM };
  });
  return (
    <details>
      <summary>The profile as a table</summary>
      <table className="ruled">
        <thead>
          <tr>
            <th>from near</th>
            <th className="right">ground</th>
            <th className="right">sight line</th>
            <th className="right">clearance</th>
            <th className="right">of the zone</th>
          </tr>
        </thead>
        <tbody>
          {points.slice(1, -1).map((p) => (
            <tr key={p.distanceM}>
              <td>
                <Length metres={p.distanceM} />
              </td>
              <td className="right">
                <Height metres={p.groundM} />
              </td>
              <td className="right">
                <Height metres={p.sightM} />
              </td>
              <td className="right">
                <Height metres={p.clearanceM} />
              </td>
              <td className="right">
                <Figure value={100 * p.zoneShare} unit="%" digits={0} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
