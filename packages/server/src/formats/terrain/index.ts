import { esriAscii } from './esriAscii';
import { TerrainFileError, type OpenTerrain, type TerrainFormat, type TerrainSource } from './format';
import { geoTiff } from './geoTiff';
import { hgt } from './hgt';

export { TerrainFileError, type OpenTerrain, type Strip, type TerrainSource } from './format';

/** Every kind of terrain file. A new kind is a new file and a line here. */
export const terrainFormats: readonly TerrainFormat[] = [geoTiff, hgt, esriAscii];

/**
 * Finds out what a file is and reads its header.
 * @param epsg the projection, for files that do not tell it
 * @throws TerrainFileError
 */
export async function openTerrain(source: TerrainSource, epsg?: number): Promise<OpenTerrain & { format: string }> {
  const head = await source.read(0, 64);
  const format = terrainFormats.find((f) => f.recognises(source.name, head));
  if (!format) {
    throw new TerrainFileError(
      `${source.name} is no terrain file that Kivram reads: ${terrainFormats.map((f) => f.words).join(', ')}. Packed files must be unpacked first.`,
    );
  }
  return { ...(await format.open(source, epsg)), format: format.key };
}
