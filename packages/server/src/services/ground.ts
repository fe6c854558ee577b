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
