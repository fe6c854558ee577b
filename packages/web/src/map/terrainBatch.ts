import { fileText } from '../parts/fileText';
import { terrainLimits } from '@kivram/contract/views/terrain';
import { epsgOfWkt } from '@kivram/core/terrain/wkt';

/** A grid to send, with the projection that a file beside it tells. */
export interface TerrainJob {
  file: File;
  /** as typed or as the projection file says; empty where neither does */
  epsg: string;
}

export interface TerrainBatch {
  jobs: TerrainJob[];
  /** what is not sent, each with the reason */
  problems: string[];
}

const stem = (name: string): string => name.replace(/\.[^.]+$/, '').toLowerCase();
const ending = (name: string): string => /\.([^.]+)$/.exec(name)?.[1]?.toLowerCase() ?? '';

/** Files that lie beside grids and hold nothing that Kivram needs. */
const besides = new Set(['tfw', 'xml', 'ovr', 'aux', 'hdr', 'pdf', 'txt']);

/** Sorts what was dropped together: a projection file goes with the grid of its name, and what is too large is not sent at all. */
export async function terrainBatch(files: readonly File[], typedEpsg: string): Promise<TerrainBatch> {
  const batch: TerrainBatch = { jobs: [], problems: [] };
  const projections = files.filter((file) => ending(file.name) === 'prj');
  const grids = files.filter(
    (file) => ending(file.name) !== 'prj' && !(files.length > 1 && besides.has(ending(file.name))),
  );
  for (const file of grids) {
    if (file.size > terrainLimits.megabytes * 1e6) {
      batch.problems.push(
        `${file.name} has ${(file.size / 1e6).toFixed(0)} MB; ${terrainLimits.megabytes} MB can be read. Cut out the part you need, for instance with gdal_translate -projwin.`,
      );
      continue;
    }
    const projection = projections.find((p) => stem(p.name) === stem(file.name));
    const epsg = projection ? epsgOfWkt(await fileText(projection)) : null;
    if (projection && epsg === null && !typedEpsg.trim()) {
      batch.problems.push(
        `${projection.name} names no system that Kivram reads, WGS84 in degrees or UTM. Project the grid first, for instance with gdalwarp -t_srs EPSG:32624.`,
      );
      continue;
    }
    batch.jobs.push({ file, epsg: typedEpsg.trim() || (epsg === null ? '' : `EPSG:${epsg}`) });
  }
  for (const { name } of projections) {
    if (!files.some((file) => file.name !== name && stem(file.name) === stem(name)))
      batch.problems.push(`${name} tells a projection only: drop it together with its grid.`);
  }
  return batch;
}
