import type { Obstacle } from '@kivram/contract/entities/obstacle';
import { routes } from '@kivram/contract/routes';
import { CoordinateError, type Position } from '@kivram/core/geodesy/coordinates';
import { parsePosition } from '@kivram/core/geodesy/utm';
import { Button, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Problem } from '../parts/Problem';
import { sendThen, useChange } from '../queries';

interface Props {
  obstacle: Obstacle;
  corners: Position[];
  onCorners(corners: Position[]): void;
  done(): void;
}

/** The corners of an obstacle, to be drawn on the map or typed here. */
export function ReshapePanel({ obstacle, corners, onCorners, done }: Props) {
  const change = useChange(routes.changeObstacle, { obstacleId: obstacle.id });
  const { id, ...fields } = obstacle;
  void id;
  const least = obstacle.isArea ? 3 : 1;
  const save = (): void => {
    const footprint = corners.map(({ latitudeDeg, longitudeDeg }) => ({ latitudeDeg, longitudeDeg }));
    sendThen(change, { ...fields, footprint }, done, done);
  };
  return (
    <>
      <p className="note">
        Draw a corner to where it is, click on the map for a further one, or type its position.
        {obstacle.isArea && ' All that the corners go round is covered.'}
      </p>
      {corners.map((corner, i) => (
        <Corner
          key={`${i} ${corner.latitudeDeg} ${corner.longitudeDeg}`}
          number={i + 1}
          corner={corner}
          onChange={(to) => onCorners(corners.map((c, k) => (k === i ? to : c)))}
          onRemove={corners.length > least ? () => onCorners(corners.filter((_, k) => k !== i)) : null}
        />
      ))}
      <Problem error={change.error} />
      <div className="row" style={{ marginTop: 8 }}>
        <Button size="sm" loading={change.isPending} onClick={save}>
          Save the shape
        </Button>
        <Button size="sm" variant="default" onClick={done}>
          Leave it as it was
        </Button>
      </div>
    </>
  );
}

interface CornerProps {
  number: number;
  corner: Position;
  onChange(to: Position): void;
  onRemove: (() => void) | null;
}

function Corner({ number, corner, onChange, onRemove }: CornerProps) {
  const shown = `${corner.latitudeDeg.toFixed(6)}, ${corner.longitudeDeg.toFixed(6)}`;
  const [text, setText] = useState(shown);
  const [error, setError] = useState<string | null>(null);
  const take = (): void => {
    setError(null);
    if (text === shown) return;
    try {
      onChange(parsePosition(text));
    } catch (problem) {
      if (!(problem instanceof CoordinateError)) throw problem;
      setError(problem.message);
    }
  };
  return (
    <div className="row" style={{ alignItems: 'flex-start', marginTop: 6 }}>
      <TextInput
        aria-label={`Position of corner ${number}`}
        flex={1}
        value={text}
        error={error}
        onChange={(event) => setText(event.currentTarget.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          event.preventDefault();
          take();
        }}
      />
      {onRemove && (
        <Button size="sm" variant="default" aria-label={`Remove corner ${number}`} onClick={onRemove}>
          Remove
        </Button>
      )}
    </div>
  );
}
