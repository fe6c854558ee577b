import type { KeyBody } from '../requests/key';
import type { ProfileBody } from '../requests/place';
import { route } from './route';

/** The server itself, and the terrain on this computer. */
export const serverRoutes = {
  health: route<'health'>()('get', '/api/health', 'anyone', 'Whether the server and its database can work'),
  getSettings: route<'getSettings'>()('get', '/api/settings', 'anyone', 'What this server was started with'),
  keyState: route<'keyState'>()(
    'get',
    '/api/key',
    'here',
    'How it stands with the key that passphrases are sealed with',
  ),
  writeKeyDown: route<'writeKeyDown'>()(
    'post',
    '/api/key/words',
    'here',
    'Tells the key as words and as a line, until it is said to be written down',
  ),
  keyWrittenDown: route<'keyWrittenDown'>()(
    'put',
    '/api/key/words',
    'here',
    'Says that the key is written down: it is told no more',
  ),
  bringKeyBack: route<'bringKeyBack'>()<KeyBody>(
    'post',
    '/api/key',
    'here',
    'Takes a key that opens what cannot be read',
  ),
  beginKey: route<'beginKey'>()('post', '/api/key/new', 'here', 'Begins a new key where the one there was is lost'),
  listTerrain: route<'listTerrain'>()(
    'get',
    '/api/terrain',
    'signedIn',
    'Terrain grids on this computer, finest first',
  ),
  removeTerrain: route<'removeTerrain'>()(
    'delete',
    '/api/terrain/:fileId',
    'worker',
    'Removes a terrain grid that no other job rests on',
    { query: { job: 'the job from whose map it is removed' } },
  ),
  /** Answers once it is read; how far it is meanwhile is asked under the id that the client made for it. */
  uploadTerrain: route<'uploadTerrain'>()(
    'post',
    '/api/terrain/uploads',
    'worker',
    'Brings a terrain file in, as the body',
    {
      takes: 'application/octet-stream',
      query: {
        name: 'what the file is called',
        epsg: 'its projection, where it does not tell it, as an EPSG code',
        upload: 'an identifier under which to ask how far it is',
      },
    },
  ),
  terrainUpload: route<'terrainUpload'>()(
    'get',
    '/api/terrain/uploads/:uploadId',
    'signedIn',
    'How far a terrain file has been read',
  ),
  terrainWindow: route<'terrainWindow'>()(
    'get',
    '/api/terrain/window',
    'signedIn',
    'A window of heights in web Mercator: 32-bit floats, little-endian, row by row from the north-west',
    {
      gives: 'application/octet-stream',
      query: {
        west: 'centre of the first cell, projected metres',
        north: 'centre of the first cell, projected metres',
        cell: 'side of a cell, projected metres',
        columns: 'cells in a row',
        rows: 'rows',
      },
    },
  ),
  terrainProfile: route<'terrainProfile'>()<ProfileBody>(
    'post',
    '/api/terrain/profiles',
    'signedIn',
    'Ground heights along the geodesic between two positions',
  ),
} as const;
