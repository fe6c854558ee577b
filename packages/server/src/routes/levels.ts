import { routes } from '@kivram/contract/routes';
import type { End } from '@kivram/core/budget/plan';
import { Router } from 'express';
import type { Sequelize } from 'sequelize';
import { AlignmentRow } from '../database/models/alignment';
import { CrewMemberRow } from '../database/models/crewMember';
import { LinkRow } from '../database/models/link';
import { loadProfiles } from '../demo/profiles';
import { serve, versionOf } from '../http/serve';
import type { Who } from '../http/who';
import type { Intake } from '../intake/intake';
import type { Commands } from '../radio/commands';
import type { LevelSources } from '../radio/levelSources';
import type { StandinAgents } from '../radio/standinAgents';
import type { StandinWorlds } from '../radio/standinWorlds';
import type { AimSessions } from '../services/aimSessions';
import { LevelProfiles } from '../services/levelProfiles';
import { SourceSettings } from '../services/sourceSettings';

interface Parts {
  sequelize: Sequelize;
  sessions: AimSessions;
  sources: LevelSources;
  worlds: StandinWorlds;
  agents: StandinAgents;
  commands: Commands;
  intake: Intake;
}

/** Where levels come from, what people bring, and who aims together. */
export function levelRoutes({ sequelize, sessions, sources, worlds, agents, commands, intake }: Parts): Router {
  const router = Router();
  const settings = new SourceSettings(sequelize, sources, commands);
  const profiles = new LevelProfiles(sequelize);
  const link = (params: Record<string, string>): [string, End] => [params.linkId ?? '', params.end as End];
  const alignment = (params: Record<string, string>): string => params.alignmentId ?? '';

  serve(router, routes.levelSources, ({ params }) => settings.view(params.linkId ?? ''));
  serve(router, routes.saveLevelSource, async ({ params, body, author, who }) => {
    const view = await settings.save(...link(params), body, author, who.isHere);
    await sessions.changeSource(...link(params));
    return view;
  });
  serve(router, routes.askDevice, ({ params, body, who }) => settings.ask(...link(params), body, who.isHere));

  serve(router, routes.commands, () => settings.commandsHere());

  serve(router, routes.tellLevel, ({ params, body }) => {
    sessions.tellLevel(alignment(params), body);
    return { taken: true as const };
  });
  serve(router, routes.pasteLevels, async ({ params, body }) =>
    sessions.pasteLevels(alignment(params), body, await intake.run('levels', { text: body.text })),
  );
  serve(router, routes.tellAngle, ({ params, body }) => {
    sessions.tellAngle(alignment(params), body);
    return { taken: true as const };
  });
  serve(router, routes.joinAlignment, async ({ params, body, who }) => {
    const name = await nameOf(alignment(params), who);
    return { present: sessions.join(alignment(params), { device: body.device, end: body.end ?? null, name }) };
  });

  serve(router, routes.levelProfiles, () => profiles.list());
  serve(router, routes.exportLevelProfiles, ({ response }) => {
    response.attachment('kivram-level-profiles.json');
    return profiles.export();
  });
  serve(router, routes.importLevelProfiles, ({ body, author }) => profiles.import(body.text, author));
  serve(router, routes.saveLevelProfile, ({ params, body, author }) =>
    profiles.save(params.profileId ?? '', body, author),
  );
  serve(router, routes.removeLevelProfile, async ({ params, query, author }) => {
    await profiles.remove(params.profileId ?? '', versionOf(query), author);
    return { removed: true as const };
  });

  serve(router, routes.standinPage, ({ params }) => worlds.page(...link(params)));
  serve(router, routes.standinAgent, async ({ params }) => {
    await loadProfiles();
    return agents.start(...link(params));
  });
  return router;
}

/** Who looks on, as the crew calls them; at the computer itself nobody may have been chosen. */
async function nameOf(alignmentId: string, who: Who): Promise<string> {
  const row = await AlignmentRow.findByPk(alignmentId, { attributes: ['linkId'] });
  const link = row && (await LinkRow.findByPk(row.linkId, { attributes: ['jobId'] }));
  const memberId = link && who.members.get(link.jobId)?.id;
  const member = memberId ? await CrewMemberRow.findByPk(memberId, { attributes: ['name'] }) : null;
  return member?.name ?? 'Somebody at the computer';
}
