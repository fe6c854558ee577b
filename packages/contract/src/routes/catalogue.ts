import type { ImportModelsBody, ModelBody, NewModelBody } from '../requests/gear';
import { route } from './route';

/** Spec sheets of the gear. */
export const catalogueRoutes = {
  listModels: route<'listModels'>()('get', '/api/models', 'signedIn', 'Spec sheets of the gear'),
  catalogue: route<'catalogue'>()('get', '/api/catalogue', 'signedIn', 'Spec sheets with who is planned with them'),
  createModel: route<'createModel'>()<NewModelBody>('post', '/api/models', 'worker', 'A new spec sheet'),
  changeModel: route<'changeModel'>()<ModelBody>(
    'put',
    '/api/models/:modelId',
    'worker',
    'A new revision of a spec sheet; radios keep theirs',
    { words: { modelId: 'any' } },
  ),
  retireModel: route<'retireModel'>()(
    'delete',
    '/api/models/:modelId',
    'worker',
    'Offers a spec sheet for new radios no longer; those that are planned keep it',
    { words: { modelId: 'any' } },
  ),
  importModels: route<'importModels'>()<ImportModelsBody>(
    'post',
    '/api/models/import',
    'worker',
    'Reads spec sheets from a file; one that is wrong keeps no other out',
  ),
  exportModels: route<'exportModels'>()(
    'get',
    '/api/models/export',
    'signedIn',
    'All spec sheets of the catalogue as one file',
  ),
} as const;
