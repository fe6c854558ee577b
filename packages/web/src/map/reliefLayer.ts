import { wrap, type Remote } from 'comlink';
import L from 'leaflet';
import type { Relief } from './relief.worker';

const worldM = 2 * Math.PI * 6_378_137;

interface ReliefOptions extends L.GridLayerOptions {
  night: boolean;
}

/** Terrain as a layer of the map: every tile is read, shaded and contoured in a worker. */
export class ReliefLayer extends L.GridLayer {
  private readonly worker = new Worker(new URL('./relief.worker.ts', import.meta.url), { type: 'module' });
  private readonly relief: Remote<Relief> = wrap<Relief>(this.worker);
  private readonly heights = new Map<string, Float32Array>();

  constructor(private readonly reliefOptions: ReliefOptions) {
    super({ tileSize: 256, ...reliefOptions });
    this.on('tileunload', (event: L.TileEvent) => this.heights.delete(keyOf(event.coords)));
  }

  protected override createTile(coords: L.Coords, done: L.DoneCallback): HTMLElement {
    const canvas = document.createElement('canvas');
    const pixels = 256;
    canvas.width = canvas.height = pixels;
    const side = worldM / 2 ** coords.z;
    this.relief
      .draw({
        west: coords.x * side - worldM / 2,
        north: worldM / 2 - coords.y * side,
        side,
        pixels,
        night: this.reliefOptions.night,
      })
      .then((drawn) => {
        if (drawn) {
          canvas.getContext('2d')?.drawImage(drawn.image, 0, 0);
          this.heights.set(keyOf(coords), drawn.heightsM);
        }
        done(undefined, canvas);
      })
      .catch((error: unknown) => done(error instanceof Error ? error : new Error(String(error)), canvas));
    return canvas;
  }

  override onRemove(map: L.Map): this {
    super.onRemove(map);
    this.worker.terminate();
    return this;
  }

  /** The ground's height under a point of the map, where its tile is drawn. */
  heightAt(map: L.Map, at: L.LatLng): number | null {
    // Between whole zooms, tiles of the nearest one are stretched.
    const zoom = Math.round(map.getZoom());
    const point = map.project(at, zoom);
    const [x, y] = [Math.floor(point.x / 256), Math.floor(point.y / 256)];
    const heights = this.heights.get(keyOf({ x, y, z: zoom } as L.Coords));
    const height = heights?.[Math.floor(point.y - y * 256) * 256 + Math.floor(point.x - x * 256)];
    return height === undefined || Number.isNaN(height) ? null : height;
  }
}

const keyOf = ({ x, y, z }: L.Coords): string => `${z} ${x} ${y}`;
