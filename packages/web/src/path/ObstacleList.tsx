import type { Obstacle } from '@kivram/contract/entities/obstacle';
import type { Position } from '@kivram/core/geodesy/coordinates';
import { positionAt } from '@kivram/core/geodesy/geodesic';
import type { PathAnalysis } from '@kivram/core/path/analysis';
import { stretchesOnPath, type Stretch } from '@kivram/core/path/obstacle';
import { obstacleRules } from '@kivram/core/path/obstacles';
import { Button } from '@mantine/core';
import { lazy, Suspense, useState } from 'react';
import { Figure, Height, Length } from '../parts/Figure';
import { useSettings } from '../settings';
import { newObstacle } from './newObstacle';
import { metresPerUnit } from './ticks';
import { Working } from '../parts/Only';

const ObstacleDialog = lazy(async () => ({ default: (await import('./ObstacleDialog')).ObstacleDialog }));

interface Props {
  jobId: string;
  obstacles: Obstacle[];
  near: Position;
  far: Position;
  azimuthDeg: number;
  analysis: PathAnalysis;
  /** where the profile was last pointed at */
  atM: number;
}

/** What stands on this path: as noted, with where it is and what it is worth. */
export function ObstacleList({ jobId, obstacles, near, far, azimuthDeg, analysis, atM }: Props) {
  const { units } = useSettings();
  const [edited, setEdited] = useState<Omit<Obstacle, 'id' | 'version'> | Obstacle | null>(null);
  const onPath = obstacles.flatMap((obstacle): { obstacle: Obstacle; stretch: Stretch | null }[] => {
    if (obstacle.kind === 'water') return analysis.surface.waterShare > 0 ? [{ obstacle, stretch: null }] : [];
    return stretchesOnPath(obstacle, near, far).map((stretch) => ({ obstacle, stretch }));
  });
  onPath.sort((a, b) => (a.stretch?.fromM ?? Infinity) - (b.stretch?.fromM ?? Infinity));
  const beside = obstacles.length - new Set(onPath.map(({ obstacle }) => obstacle)).size;
  return (
    <section>
      <h2 className="row">
        What stands in the path
        <span style={{ flex: 1 }} />
        <Working jobId={jobId}>
          <Button
            size="xs"
            variant="default"
            onClick={() => setEdited(newObstacle('trees', [positionAt(near, azimuthDeg, atM)]))}
          >
            Note something at&nbsp;
            <Length metres={atM} />
          </Button>
        </Working>
      </h2>
      <table className="ruled">
        <thead>
          <tr>
            <th>what</th>
            <th className="right">from near</th>
            <th className="right">height</th>
            <th className="right">grows</th>
            <th>how sure</th>
            <th>
              <span className="visually-hidden">to change it</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {onPath.map(({ obstacle, stretch }) => (
            <tr key={`${obstacle.id} ${stretch?.fromM ?? ''}`}>
              <td>
                {obstacle.name || obstacleRules[obstacle.kind].words}
                {obstacle.name && <span className="soft">, {obstacleRules[obstacle.kind].words}</span>}
              </td>
              <td className="right">
                {stretch ? <Length metres={(stretch.fromM + stretch.toM) / 2} /> : 'all low ground'}
              </td>
              <td className="right">
                <Height metres={obstacle.heightM} />
              </td>
              <td className="right">
                {obstacle.growthMPerYear > 0 ? (
                  <>
                    <Figure
                      value={obstacle.growthMPerYear / metresPerUnit(units)}
                      unit={units === 'metric' ? 'm' : 'ft'}
                      digits={2}
                    />
                    <span className="soft"> a year, since {obstacle.measuredYear}</span>
                  </>
                ) : (
                  <span className="soft">no</span>
                )}
              </td>
              <td>{obstacle.confidence}</td>
              <td className="right">
                <Working jobId={jobId}>
                  <Button
                    size="compact-sm"
                    variant="default"
                    onClick={() => setEdited(obstacle)}
                    aria-label={`Change ${obstacle.name || obstacleRules[obstacle.kind].words}`}
                  >
                    Change
                  </Button>
                </Working>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {!onPath.length && (
        <p className="note">Nothing noted on this path. Walk it: trees, roofs, gates where lorries stop.</p>
      )}
      {beside > 0 && (
        <p className="note">
          {beside} more noted in this job {beside > 1 ? 'stand' : 'stands'} beside this path.
        </p>
      )}
      {edited && (
        <Suspense>
          <ObstacleDialog jobId={jobId} obstacle={edited} close={() => setEdited(null)} />
        </Suspense>
      )}
    </section>
  );
}
