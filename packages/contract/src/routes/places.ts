import type { CableFields } from '../entities/need';
import type { ObstacleFields } from '../entities/obstacle';
import type { PlaceNeedBody, PlannedNeedsBody } from '../requests/need';
import type { ObstacleBody } from '../requests/obstacle';
import type { ImportPlacesBody, NewPlaceBody, PlaceBody } from '../requests/place';
import { route } from './route';

/** Places, and what stands in the way. */
export const placesRoutes = {
  changePlace: route<'changePlace'>()<PlaceBody>('patch', '/api/places/:placeId', 'installer', 'Changes a place', {
    later: 'a change of a place',
  }),
  createPlace: route<'createPlace'>()<NewPlaceBody>(
    'post',
    '/api/jobs/:jobId/places',
    'installer',
    'A new place on the map',
    { later: 'a new place' },
  ),
  removePlace: route<'removePlace'>()(
    'delete',
    '/api/places/:placeId',
    'installer',
    'Removes a place; it can be brought back',
    {
      query: {
        version: 'the version that was looked at',
        with: '"links": with the links whose radios stand there; else a place that carries a radio stays',
      },
    },
  ),
  placeRemoval: route<'placeRemoval'>()(
    'get',
    '/api/places/:placeId/removal',
    'reader',
    'What goes with a place when it is removed',
  ),
  importPlaces: route<'importPlaces'>()<ImportPlacesBody>(
    'post',
    '/api/jobs/:jobId/places/import',
    'installer',
    'Reads waypoints from GPX, KML, GeoJSON or CSV',
  ),
  takeGround: route<'takeGround'>()(
    'post',
    '/api/jobs/:jobId/places/ground',
    'installer',
    'Gives places that stand at 0 m the heights of the terrain, where it knows better',
  ),
  exportPlaces: route<'exportPlaces'>()(
    'get',
    '/api/jobs/:jobId/places.:format',
    'reader',
    'Places and links for other maps',
    {
      words: { format: ['geojson', 'kml'] },
      gives: 'application/octet-stream',
    },
  ),
  needs: route<'needs'>()(
    'get',
    '/api/jobs/:jobId/needs',
    'reader',
    'What every place needs, with all that it is added up from',
  ),
  saveNeed: route<'saveNeed'>()<PlaceNeedBody>(
    'put',
    '/api/places/:placeId/need',
    'installer',
    'Says what people and things at a place do over its links',
  ),
  createCable: route<'createCable'>()<CableFields>(
    'post',
    '/api/jobs/:jobId/cables',
    'installer',
    'A cable between two places, which traffic takes as it takes a link',
  ),
  removeCable: route<'removeCable'>()('delete', '/api/cables/:cableId', 'installer', 'Takes a cable away', {
    query: { version: 'the version that was looked at' },
  }),
  planNeeds: route<'planNeeds'>()<PlannedNeedsBody>(
    'post',
    '/api/jobs/:jobId/needs/plans',
    'installer',
    'Plans links by what is to cross them, all of them or none',
  ),
  createObstacle: route<'createObstacle'>()<ObstacleFields>(
    'post',
    '/api/jobs/:jobId/obstacles',
    'installer',
    'Something in the way, as seen',
    { later: 'something in the way' },
  ),
  changeObstacle: route<'changeObstacle'>()<ObstacleBody>(
    'put',
    '/api/obstacles/:obstacleId',
    'installer',
    'Changes an obstacle',
    { later: 'a change of something in the way' },
  ),
  removeObstacle: route<'removeObstacle'>()(
    'delete',
    '/api/obstacles/:obstacleId',
    'installer',
    'Removes an obstacle',
    {
      query: { version: 'the version that was looked at' },
    },
  ),
} as const;
