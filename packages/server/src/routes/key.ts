import { routes } from '@kivram/contract/routes';
import { Router } from 'express';
import { serve } from '../http/serve';
import type { Keys } from '../services/keys';
import type { LinkMemos } from '../services/linkMemos';

/** The key that passphrases are sealed with, at the computer itself. */
export function keyRoutes(keys: Keys, memos: LinkMemos): Router {
  const router = Router();
  serve(router, routes.keyState, () => keys.view());
  serve(router, routes.writeKeyDown, () => keys.writeDown());
  serve(router, routes.keyWrittenDown, () => keys.noteWrittenDown());
  serve(router, routes.bringKeyBack, async ({ body }) => {
    const view = await keys.bringBack(body.text);
    await memos.refreshAll();
    return view;
  });
  serve(router, routes.beginKey, () => keys.beginAnew());
  return router;
}
