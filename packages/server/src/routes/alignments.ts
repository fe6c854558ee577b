import { routes } from '@kivram/contract/routes';
import { Router } from 'express';
import { AlignmentRow } from '../database/models/alignment';
import { writePieces } from '../http/pieces';
import { EventStream } from '../http/eventStream';
import { serve, serveRaw } from '../http/serve';
import type { StandinWorlds } from '../radio/standinWorlds';
import type { AimSessions } from '../services/aimSessions';
import type { PathChecks } from '../services/pathChecks';
import { alignmentJson, summariseAlignment } from '../services/alignmentViews';

export function alignmentRoutes(sessions: AimSessions, checks: PathChecks): Router {
  const router = Router();
  const id = (params: Record<string, string>): string => params.alignmentId ?? '';

  serve(router, routes.startAlignment, ({ params, body, author }) => sessions.start(params.linkId ?? '', body, author));
  serve(router, routes.listAlignments, async ({ params }) => {
    const rows = await AlignmentRow.findAll({ where: { linkId: params.linkId ?? '' }, order: [['startedAt', 'DESC']] });
    return rows.map(summariseAlignment);
  });
  // JSON, written as it comes out of the database.
  serveRaw(router, routes.getAlignment, ({ params, response }) => writePieces(alignmentJson(id(params)), response));
  serve(router, routes.markAlignment, ({ params, body }) => sessions.mark(id(params), body));
  serve(router, routes.finishAlignment, ({ params, body, author }) => sessions.finish(id(params), body, author));
  serve(router, routes.abandonAlignment, ({ params, author }) => sessions.abandon(id(params), author));

  serve(router, routes.pathChecks, ({ params }) => checks.list(params.linkId ?? ''));
  serve(router, routes.storePathCheck, ({ params, body, author }) => checks.store(params.linkId ?? '', body, author));

  serve(router, routes.readOn, ({ params }) => sessions.readOn(id(params)));
  serveRaw(router, routes.alignmentStream, async ({ params, response }) => {
    const stream = new EventStream(response);
    const stop = await sessions.watch(id(params), {
      begin: () => stream.begin(),
      show: (event) => stream.say(event),
      leave: () => stream.end(),
    });
    stream.whenClosed(stop);
  });

  return router;
}

/** The installer's hands in the stand-in world: apart from everything that measures. */
export function standinRoutes(worlds: StandinWorlds): Router {
  const router = Router();
  const id = (params: Record<string, string>): string => params.linkId ?? '';
  serve(router, routes.getHands, ({ params }) => worlds.hands(id(params)));
  serve(router, routes.turnMount, ({ params, body }) => worlds.turn(id(params), body.end, body.axis, body.byDeg));
  serve(router, routes.tightenMount, ({ params, body }) => worlds.tighten(id(params), body.end));
  return router;
}
