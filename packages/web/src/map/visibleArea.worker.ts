import type { Position } from '@kivram/core/geodesy/coordinates';
import { cellAround, fromMercator, mercatorScale, toMercator } from '@kivram/core/terrain/mercator';
import { hiddenStep, notLooked, visibleArea } from '@kivram/core/terrain/visibleArea';
import { expose } from 'comlink';
import { readWindow } from './terrainWindow';

export interface AreaQuery {
  mast: Position;
  mastHeightM: number;
  targetHeightM: number;
  radiusM: number;
  frequencyMHz: number;
  /** finest cell worth computing */
  cellM: number;
}

export interface AreaAnswer {
  steps: Uint8Array;
  columns: number;
  rows: number;
  south: number;
  west: number;
  north: number;
  east: number;
  cellM: number;
  /** share of the looked-at area per step, the last for hidden */
  shares: number[];
  /** how well each asked place is seen; null outside */
  places: (number | null)[];
}

const mostCells = 1000;

/** Computes what is seen from a mast, away from the page's own thread. Giving up is ending the worker. */
const api = {
  async run(query: AreaQuery, places: Position[], onProgress: (share: number) => void): Promise<AreaAnswer> {
    const { latitudeDeg } = query.mast;
    const scale = mercatorScale(latitudeDeg);
    const cellM = Math.max(query.cellM, (2 * query.radiusM) / mostCells);
    const cell = cellM / scale.east;
    const reach = Math.ceil(query.radiusM / Math.min(scale.east, scale.north) / cell);
    const centre = toMercator(query.mast);
    const window = {
      west: centre.x - reach * cell,
      north: centre.y + reach * cell,
      cell,
      columns: 2 * reach + 1,
      rows: 2 * reach + 1,
    };
    const raster = await readWindow(window);
    const sweep = visibleArea({
      raster,
      cellWidthM: cell * scale.east,
      cellHeightM: cell * scale.north,
      column: reach,
      row: reach,
      mastHeightM: query.mastHeightM,
      targetHeightM: query.targetHeightM,
      radiusM: query.radiusM,
      frequencyMHz: query.frequencyMHz,
    });
    let state = sweep.next();
    while (!state.done) {
      onProgress(state.value);
      state = sweep.next();
    }
    const steps = state.value;
    const counts = new Array<number>(hiddenStep + 1).fill(0);
    let looked = 0;
    for (const step of steps) {
      if (step === notLooked) continue;
      counts[step] = (counts[step] ?? 0) + 1;
      looked++;
    }
    const northWest = fromMercator(window.west - cell / 2, window.north + cell / 2);
    const southEast = fromMercator(
      window.west + (window.columns - 0.5) * cell,
      window.north - (window.rows - 0.5) * cell,
    );
    return {
      steps,
      columns: window.columns,
      rows: window.rows,
      north: northWest.latitudeDeg,
      west: northWest.longitudeDeg,
      south: southEast.latitudeDeg,
      east: southEast.longitudeDeg,
      cellM,
      shares: counts.map((n) => n / Math.max(1, looked)),
      places: places.map((place) => {
        const index = cellAround(window, place);
        const step = index === null ? notLooked : (steps[index] ?? notLooked);
        return step === notLooked ? null : step;
      }),
    };
  },
};

export type AreaWorker = typeof api;
expose(api);
