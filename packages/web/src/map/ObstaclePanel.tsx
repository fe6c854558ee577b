import type { Obstacle } from '@kivram/contract/entities/obstacle';
import { obstacleRules } from '@kivram/core/path/obstacles';
import { Button } from '@mantine/core';
import { Height } from '../parts/Figure';

interface Props {
  obstacles: readonly Obstacle[];
  /** Something is drawn and not yet saved, which beginning another would lose. */
  isDrawing: boolean;
  mayChange: boolean;
  onChange(obstacle: Obstacle): void;
  onReshape(obstacle: Obstacle): void;
}

/** What was noted as standing in the way, each to be changed or given another shape. */
export function ObstaclePanel({ obstacles, isDrawing, mayChange, onChange, onReshape }: Props) {
  if (!obstacles.length) return null;
  return (
    <section className="map-panel">
      <h2>What stands in the way</h2>
      {obstacles.map((obstacle) => {
        const words = obstacle.name || obstacleRules[obstacle.kind].words;
        return (
          <div key={obstacle.id} className="row map-obstacle">
            <span style={{ flex: 1 }}>
              {words}, <Height metres={obstacle.heightM} />
            </span>
            {mayChange && (
              <Button
                size="compact-sm"
                variant="default"
                aria-label={`Change ${words}`}
                onClick={() => onChange(obstacle)}
              >
                Change
              </Button>
            )}
            {mayChange && obstacle.footprint.length > 0 && (
              <Button
                size="compact-sm"
                variant="default"
                disabled={isDrawing}
                aria-label={`Reshape ${words}`}
                onClick={() => onReshape(obstacle)}
              >
                Reshape
              </Button>
            )}
          </div>
        );
      })}
    </section>
  );
}
