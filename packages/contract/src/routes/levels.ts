import { ends } from '@kivram/core/budget/plan';
import type {
  AngleBody,
  AskDeviceBody,
  ImportProfilesBody,
  LevelProfileBody,
  LevelSourceBody,
  LevelTableBody,
  TypedLevelBody,
} from '../requests/level';
import { route } from './route';

const words = { end: ends };

/** Where levels come from, and levels that people bring. */
export const levelsRoutes = {
  levelSources: route<'levelSources'>()(
    'get',
    '/api/links/:linkId/level-sources',
    'reader',
    'Where the levels of both ends come from',
  ),
  saveLevelSource: route<'saveLevelSource'>()<LevelSourceBody>(
    'put',
    '/api/links/:linkId/level-sources/:end',
    'installer',
    'Chooses where the level of one end comes from; a running alignment goes on with it',
    { words },
  ),
  askDevice: route<'askDevice'>()<AskDeviceBody>(
    'post',
    '/api/links/:linkId/level-sources/:end/ask',
    'installer',
    'Asks a device for all that it answers, with settings that need not be stored',
    { words, showsItself: true },
  ),
  commands: route<'commands'>()(
    'get',
    '/api/commands',
    'here',
    'The programs of this computer that tell a level, by the names under which jobs may ask for them',
  ),
  tellLevel: route<'tellLevel'>()<TypedLevelBody>(
    'post',
    '/api/alignments/:alignmentId/levels',
    'installer',
    'A level that somebody read off a radio',
  ),
  pasteLevels: route<'pasteLevels'>()<LevelTableBody>(
    'post',
    '/api/alignments/:alignmentId/tables',
    'installer',
    'Levels with their times as a table; the same one twice adds nothing',
  ),
  tellAngle: route<'tellAngle'>()<AngleBody>(
    'post',
    '/api/alignments/:alignmentId/angles',
    'installer',
    'The attitude of a phone on the antenna',
  ),
  levelProfiles: route<'levelProfiles'>()(
    'get',
    '/api/level-profiles',
    'signedIn',
    'What is read of which kind of radio, and where it stands',
  ),
  saveLevelProfile: route<'saveLevelProfile'>()<LevelProfileBody>(
    'put',
    '/api/level-profiles/:profileId',
    'worker',
    'A new profile, or a changed one',
  ),
  removeLevelProfile: route<'removeLevelProfile'>()(
    'delete',
    '/api/level-profiles/:profileId',
    'worker',
    'Removes a profile that no end is read by',
    { query: { version: 'the version that was looked at' } },
  ),
  importLevelProfiles: route<'importLevelProfiles'>()<ImportProfilesBody>(
    'post',
    '/api/level-profiles/import',
    'worker',
    'Reads profiles from a file; one that is wrong keeps no other out',
  ),
  exportLevelProfiles: route<'exportLevelProfiles'>()(
    'get',
    '/api/level-profiles/export',
    'signedIn',
    'All profiles as one file',
  ),
  standinPage: route<'standinPage'>()(
    'get',
    '/api/standin/links/:linkId/radios/:end',
    'reader',
    "Stand-in: what the radio's own page shows",
    { words },
  ),
  standinAgent: route<'standinAgent'>()(
    'post',
    '/api/standin/links/:linkId/radios/:end/agent',
    'installer',
    'Stand-in: lets the radio answer by SNMP',
    { words },
  ),
} as const;
