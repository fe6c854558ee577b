import {
  routes,
  terrainUploadPath,
  terrainWindowPath,
  type TerrainFile,
  type TerrainImportLine,
} from '@kivram/contract';
import { crsOf } from '@kivram/core';
import { Router, type Request } from 'express';
import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Logger } from 'pino';
import { UniqueConstraintError, type Sequelize } from 'sequelize';
import { TerrainFileRow } from '../database/models';
import { TerrainFileError, type TerrainSource } from '../formats/terrain';
import { ApiProblem, notFound } from '../http/problem';
import { serve } from '../http/serve';
import type { StandinWorlds } from '../radio/standinWorlds';
import type { LinkMemos } from '../services/linkMemos';
import { importTerrain } from '../terrain/importer';
import { terrainShelf } from '../terrain/shelf';

const mostBytes = 200 * 1024 * 1024;
const mostWindowCells = 1_100 * 1_100;

export function terrainRoutes(sequelize: Sequelize, worlds: StandinWorlds, memos: LinkMemos, log: Logger): Router {
  const router = Router();

  serve(router, routes.listTerrain, async () => (await terrainShelf.files()).map(viewTerrain));

  serve(router, routes.removeTerrain, async ({ params }) => {
    const removed = await TerrainFileRow.destroy({ where: { id: params.fileId } });
    if (!removed) throw notFound('terrain');
    worlds.forgetAll();
    await memos.refreshAll();
    return { removed: true };
  });

  serve(router, routes.terrainProfile, ({ body }) => terrainShelf.profile(body.near, body.far));

  router.get(terrainWindowPath, async (request, response) => {
    const number = (name: string): number => {
      const value = Number(request.query[name]);
      if (!Number.isFinite(value)) {
        throw new ApiProblem(400, 'Bad request', `${name} is "${String(request.query[name])}", which is no number.`);
      }
      return value;
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

  /** The body is the file. The answer comes in lines while it is read; closing the connection gives up. */
  router.post(terrainUploadPath, async (request, response) => {
    const name = String(request.query.name ?? '').slice(0, 200) || 'terrain';
    const epsg = request.query.epsg === undefined ? undefined : Number(request.query.epsg);
    if (epsg !== undefined && !Number.isInteger(epsg)) {
      throw new ApiProblem(422, 'Not valid', `"${String(request.query.epsg)}" is no EPSG code: write it like 32624.`);
    }
    const gone = new AbortController();
    response.on('close', () => gone.abort());
    const folder = join(tmpdir(), 'kivram-uploads');
    const path = join(folder, randomUUID());
    const say = (line: TerrainImportLine): void => void response.write(`${JSON.stringify(line)}\n`);
    response.type('application/x-ndjson');
    try {
      await mkdir(folder, { recursive: true });
      const { bytes, sha256 } = await receive(request, path, gone.signal);
      const handle = await open(path);
      try {
        const source: TerrainSource = {
          name,
          bytes,
          read: async (offset, length) => {
            const buffer = Buffer.alloc(Math.max(0, Math.min(length, bytes - offset)));
            const { bytesRead } = await handle.read(buffer, 0, buffer.length, offset);
            return buffer.subarray(0, bytesRead);
          },
        };
        const file = await importTerrain(sequelize, source, {
          sha256,
          epsg,
          signal: gone.signal,
          onProgress: (share) => say({ type: 'progress', share }),
        });
        worlds.forgetAll();
        await memos.refreshAll();
        say({ type: 'done', file: viewTerrain(file) });
      } finally {
        await handle.close();
      }
    } catch (error) {
      if (!gone.signal.aborted) say({ type: 'failed', detail: wordsFor(error, name, log) });
    } finally {
      await rm(path, { force: true });
      response.end();
    }
  });

  return router;
}

function wordsFor(error: unknown, name: string, log: Logger): string {
  if (error instanceof TerrainFileError) return error.message;
  if (error instanceof UniqueConstraintError)
    return `${name} is being imported twice at the same time; once is enough.`;
  log.error({ err: error }, 'terrain import failed');
  return `${name} could not be imported. Nothing was kept of it. The log of the server says more.`;
}

/** Writes the body into a file, counting and hashing. @throws TerrainFileError when it is too long */
async function receive(
  request: Request,
  path: string,
  signal: AbortSignal,
): Promise<{ bytes: number; sha256: string }> {
  const hash = createHash('sha256');
  let bytes = 0;
  const count = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      hash.update(chunk);
      done(
        bytes > mostBytes ? new TerrainFileError('The file is larger than 200 MB. Cut out the part you need.') : null,
        chunk,
      );
    },
  });
  await pipeline(request, count, createWriteStream(path), { signal });
  if (!bytes) throw new TerrainFileError('The file is empty.');
  return { bytes, sha256: hash.digest('hex') };
}

export function viewTerrain(row: TerrainFileRow): TerrainFile {
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
    outline: [
      crs.toPosition(west, south),
      crs.toPosition(east, south),
      crs.toPosition(east, north),
      crs.toPosition(west, north),
    ],
  };
}
