import { routes } from '@kivram/contract/routes';
import { terrainLimits, type TerrainFile } from '@kivram/contract/views/terrain';
import { crsOf } from '@kivram/core/terrain/crs';
import { Router } from 'express';
import type { Sequelize } from 'sequelize';
import { addressOf } from '../database/connection';
import { PlaceRow } from '../database/models/place';
import { TerrainFileRow } from '../database/models/terrainFile';
import { ApiProblem, notFound } from '../http/apiProblem';
import { jobsSeenBy, needRole } from '../http/who';
import { serve, serveRaw } from '../http/serve';
import type { Uploads } from '../http/uploads';
import type { Intake } from '../intake/intake';
import type { StandinWorlds } from '../radio/standinWorlds';
import type { LinkMemos } from '../services/linkMemos';
import { terrainShelf } from '../terrain/shelf';

const { megabytes: mostMegabytes } = terrainLimits;
const mostWindowCells = 1_100 * 1_100;
/** Half around the equator is 20,037 km in web Mercator. */
const farthestM = 3e7;

export function terrainRoutes(
  sequelize: Sequelize,
  worlds: StandinWorlds,
  memos: LinkMemos,
  intake: Intake,
  uploads: Uploads,
): Router {
  const router = Router();

  serve(router, routes.listTerrain, async ({ who }) => {
    const files = await terrainShelf.files();
    const jobs = await jobsOn(files);
    return files.map((file) => viewTerrain(file, jobs.get(file.id) ?? [], jobsSeenBy(who)));
  });

  serve(router, routes.removeTerrain, async ({ params, query, who }) => {
    const file = await TerrainFileRow.findByPk(params.fileId);
    if (!file) throw notFound('terrain');
    const on = (await jobsOn([file])).get(file.id) ?? [];
    if (query.job && on.includes(query.job)) needRole(who, query.job, 'installer');
    const others = on.filter((jobId) => jobId !== query.job).length;
    if (others)
      throw new ApiProblem(
        409,
        'In use',
        `${file.name} lies under ${others} other job${others > 1 ? 's' : ''}, whose paths rest on it: it stays.`,
      );
    const removed = await TerrainFileRow.destroy({ where: { id: params.fileId } });
    if (!removed) throw notFound('terrain');
    worlds.forgetAll();
    await memos.refreshAll();
    return { removed: true };
  });

  serve(router, routes.terrainProfile, ({ body }) => terrainShelf.profile(body.near, body.far));

  serveRaw(router, routes.terrainWindow, async ({ query, response }) => {
    const number = (name: string): number => {
      const value = Number(query[name]);
      if (query[name] && Math.abs(value) <= farthestM) return value;
      throw new ApiProblem(
        400,
        'Bad request',
        `${name} is "${query[name] ?? ''}", which is no number of metres on Earth.`,
      );
    };
    const [columns, rows] = [number('columns'), number('rows')];
    if (
      !Number.isInteger(columns) ||
      !Number.isInteger(rows) ||
      columns < 1 ||
      rows < 1 ||
      columns * rows > mostWindowCells
    ) {
      throw new ApiProblem(
        400,
        'Bad request',
        `A window of ${columns} by ${rows} cells is not possible; ask for fewer.`,
      );
    }
    const heights = await terrainShelf.window({
      west: number('west'),
      north: number('north'),
      cell: number('cell'),
      columns,
      rows,
    });
    response.type('application/octet-stream').send(Buffer.from(heights.buffer));
  });

  /** How far files have been read that are being read now. */
  const shares = new Map<string, number>();
  serve(router, routes.terrainUpload, ({ params }) => ({ share: shares.get(params.uploadId ?? '') ?? 0 }));
  serve(router, routes.uploadTerrain, async ({ request, query }) => {
    const name = query.name?.slice(0, 200) || 'terrain';
    const epsg = query.epsg === undefined ? undefined : Number(query.epsg);
    if (epsg !== undefined && !(Number.isInteger(epsg) && epsg > 0 && epsg < 1e6)) {
      throw new ApiProblem(422, 'Not valid', `"${query.epsg?.slice(0, 60)}" is no EPSG code: write it like 32624.`);
    }
    const upload = query.upload ?? '';
    try {
      const fileId = await uploads.receive(request, mostMegabytes, async ({ path, sha256 }, signal) => {
        const task = { databaseUrl: addressOf(sequelize), path, name, sha256, epsg };
        const onProgress = (share: number): void => void shares.set(upload, share);
        return (await intake.run('terrain', task, { signal, onProgress })).fileId;
      });
      worlds.forgetAll();
      await memos.refreshAll();
      return viewTerrain(await TerrainFileRow.findByPk(fileId, { rejectOnEmpty: true }), [], null);
    } finally {
      shares.delete(upload);
    }
  });

  return router;
}

/** The jobs that have a place on each of some files. */
async function jobsOn(files: readonly TerrainFileRow[]): Promise<Map<string, string[]>> {
  const places = await PlaceRow.findAll({ attributes: ['jobId', 'latitudeDeg', 'longitudeDeg'], raw: true });
  const byJob = new Map<string, PlaceRow[]>();
  for (const place of places) {
    const own = byJob.get(place.jobId);
    if (own) own.push(place);
    else byJob.set(place.jobId, [place]);
  }
  const jobs = new Map<string, string[]>(files.map(({ id }) => [id, []]));
  for (const [jobId, own] of byJob) for (const { id } of terrainShelf.filesUnder(files, own)) jobs.get(id)?.push(jobId);
  return jobs;
}

/** @param seen the jobs that whoever asks may read; null for all */
export function viewTerrain(row: TerrainFileRow, jobs: readonly string[], seen: readonly string[] | null): TerrainFile {
  const jobIds = jobs.filter((jobId) => seen === null || seen.includes(jobId));
  const crs = crsOf(row.epsg);
  const [west, east] = [row.westX, row.westX + row.cellX * (row.columns - 1)];
  const [south, north] = [row.northY - row.cellY * (row.rows - 1), row.northY];
  const { id, name, format, columns, rows, cellM, leastM, mostM, voidShare } = row;
  return {
    id,
    name,
    format,
    projection: crs.name,
    columns,
    rows,
    cellM,
    leastM,
    mostM,
    voidShare,
    bytes: Number(row.bytes),
    importedAt: row.importedAt.toISOString(),
    jobIds,
    otherJobs: jobs.length - jobIds.length,
    outline: [
      crs.toPosition(west, south),
      crs.toPosition(east, south),
      crs.toPosition(east, north),
      crs.toPosition(west, north),
    ],
  };
}
