import type { Position } from '@kivram/core/geodesy/coordinates';
import { ApiProblem } from '../http/apiProblem';
import { terrainShelf } from '../terrain/shelf';

/** The terrain's height there. @throws ApiProblem where no terrain is known */
export async function groundAt(position: Position): Promise<number> {
  const [heightM = NaN] = await terrainShelf.heightsM([position]);
  if (Number.isNaN(heightM)) {
    throw new ApiProblem(
      422,
      'No terrain',
      `No terrain is known at ${position.latitudeDeg.toFixed(5)}, ${position.longitudeDeg.toFixed(5)}: type the height of the ground, or import terrain first.`,
    );
  }
  return Math.round(heightM * 10) / 10;
}

/** A height that differs from 0 m by less is none that anybody left out. */
const atZeroM = 0.5;

/** What the terrain says of places that stand at 0 m, by their ids, where it knows better: nobody knew it when they came. */
export async function groundsAtZero(
  places: readonly (Position & { id: string; groundHeightM: number })[],
): Promise<Map<string, number>> {
  const zero = places.filter(({ groundHeightM }) => groundHeightM === 0);
  const heights = zero.length ? await terrainShelf.heightsM(zero) : [];
  return new Map(
    zero.flatMap(({ id }, i): [string, number][] => {
      const heightM = heights[i] ?? NaN;
      return Math.abs(heightM) > atZeroM ? [[id, Math.round(heightM * 10) / 10]] : [];
    }),
  );
}
