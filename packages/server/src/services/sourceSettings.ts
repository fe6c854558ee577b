import type { AskDeviceBody, LevelSourceBody } from '@kivram/contract/requests/level';
import type {
  CommandsView,
  DeviceAnswer,
  LevelSourcesView,
  LevelSourceView,
  SourceSecret,
} from '@kivram/contract/views/level';
import { levelWayWords, type LevelWay } from '@kivram/core/aiming/levelWay';
import { otherEnd, type End } from '@kivram/core/budget/plan';
import type { Sequelize } from 'sequelize';
import { LevelProfileRow } from '../database/models/levelProfile';
import { LevelSourceRow, type SourceSecrets, type SourceSetting } from '../database/models/levelSource';
import { LinkRow } from '../database/models/link';
import { RadioRow } from '../database/models/radio';
import type { Author } from '../http/author';
import { ApiProblem, changedMeanwhile, notFound } from '../http/apiProblem';
import { digestOf, type Commands } from '../radio/commands';
import { DeviceError } from '../radio/devices/device';
import { CertificateError } from '../radio/devices/httpAnswer';
import { addressOf, OutsideError, urlIn } from '../radio/devices/whereabouts';
import { unchosenWay, type LevelSources } from '../radio/levelSources';
import { radiosOf } from './alignmentViews';
import { jobOf, makeChange } from './changes';

/** Where the levels of the ends of links come from, as people set it up. */
export class SourceSettings {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly sources: LevelSources,
    private readonly commands: Commands,
  ) {}

  async view(linkId: string): Promise<LevelSourcesView> {
    const [near, far] = [await rowOf(linkId, 'near'), await rowOf(linkId, 'far')];
    const unchosen = near.row && far.row ? near.row.way : await unchosenWay(linkId);
    return { near: this.viewSource(near.row, unchosen), far: this.viewSource(far.row, unchosen) };
  }

  /** The commands of this computer, for whoever sits at it. */
  commandsHere(): CommandsView {
    const { file } = this.commands;
    try {
      return { file, commands: this.commands.list(), trouble: null };
    } catch (error) {
      if (error instanceof DeviceError) return { file, commands: [], trouble: error.message };
      throw error;
    }
  }

  /** Secrets that are left out stay what they were, as long as they are sent to the same place. @param isHere whether who asks sits at this computer */
  async save(
    linkId: string,
    end: End,
    body: LevelSourceBody,
    author: Author,
    isHere: boolean,
  ): Promise<LevelSourcesView> {
    if (body.way === 'command' && !isHere) throw onlyHere();
    await refuseOutside(body);
    const jobId = await jobOf(LinkRow, linkId, 'link');
    const { radioId, peerId } = await rowOf(linkId, end);
    await makeChange(this.sequelize, jobId, author, async ({ transaction, note }) => {
      // Two who set the same end up at the same moment meet here.
      await RadioRow.findByPk(radioId, { transaction, lock: true });
      const row = await LevelSourceRow.findOne({ where: { radioId, peerId }, transaction });
      if ((row?.version ?? -1) !== body.version) throw changedMeanwhile('way of reading');
      if (isAsked(body) && !(await LevelProfileRow.findByPk(body.profileId, { transaction })))
        throw notFound('profile');
      const values = {
        way: body.way,
        profileId: isAsked(body) ? (body.profileId ?? null) : null,
        setting: settingOf(body, isHere),
        secrets: secretsOf(body, row),
        // Whoever chooses a command here has seen what it runs.
        allowedCommand: body.way === 'command' && body.command ? this.digestOf(body.command.name) : null,
      };
      if (row) await row.update(values, { transaction });
      else await LevelSourceRow.create({ ...values, radioId, peerId }, { transaction });
      await note({ linkId, kind: 'alignment', summary: `Level at the ${end} end: ${levelWayWords[body.way]}` });
      return null;
    });
    return this.view(linkId);
  }

  /** @throws ApiProblem in the words of what went wrong; for an address outside of private networks, with the address to confirm */
  async ask(linkId: string, end: End, { source, branch }: AskDeviceBody, isHere: boolean): Promise<DeviceAnswer> {
    if (source.way === 'command' && !isHere) throw onlyHere();
    const { row, peerId } = await rowOf(linkId, end);
    try {
      return await this.sources.explore(
        { way: source.way, ...settingOf(source, isHere), allowedCommand: this.digestOf(source.command?.name) },
        secretsOf(source, row),
        peerId,
        branch,
      );
    } catch (error) {
      if (error instanceof OutsideError) throw outside(error);
      if (error instanceof CertificateError) throw unknownCertificate(error);
      if (error instanceof DeviceError) throw new ApiProblem(422, 'No answer', error.message);
      throw error;
    }
  }

  /** What stands for a command as it is now; null for none. @throws ApiProblem where there is none of this name */
  private digestOf(name: string | undefined): string | null {
    if (name === undefined) return null;
    const { file, commands, trouble } = this.commandsHere();
    const command = commands.find((one) => one.name === name);
    if (command) return digestOf(command);
    throw new ApiProblem(
      422,
      'No such command',
      trouble ??
        (file
          ? `There is no command "${name}" on this computer: write it into ${file}.`
          : 'No commands are run here: they are for "npm start".'),
    );
  }

  private viewSource(row: LevelSourceRow | null, unchosen: LevelWay): LevelSourceView {
    const { snmp = null, http = null, command = null, lightsDbm = [], outsideAddress = null } = row?.setting ?? {};
    const secrets = row?.secrets ?? {};
    const here = command && this.commandsHere().commands.find(({ name }) => name === command.name);
    return {
      version: row?.version ?? -1,
      way: row?.way ?? unchosen,
      profileId: row?.profileId ?? null,
      snmp,
      http,
      command,
      isCommandAllowed: !!here && digestOf(here) === row?.allowedCommand,
      lightsDbm,
      outsideAddress,
      secretsKept: secretNames.filter((name) => secrets[name] !== undefined),
    };
  }
}

/** With the address, so that it can be said to be meant. */
const outside = (error: OutsideError): ApiProblem =>
  new ApiProblem(409, 'Outside', error.message, [{ field: 'outsideAddress', message: error.address }]);

/** With its fingerprint, so that it can be said to be the radio's. */
const unknownCertificate = (error: CertificateError): ApiProblem =>
  new ApiProblem(409, 'Unknown certificate', error.message, [{ field: 'certificate', message: error.fingerprint }]);

/** Asked about when it is chosen; whoever is not on site yet has no name to look up, and is asked when it is used. */
async function refuseOutside({ snmp, http, way, outsideAddress }: LevelSourceBody): Promise<void> {
  try {
    const host = way === 'snmp' ? snmp?.host : way === 'http' ? http && urlIn(http.url).hostname : undefined;
    if (!host) return;
    await addressOf(host, outsideAddress);
  } catch (error) {
    if (error instanceof OutsideError) throw outside(error);
  }
}

const isAsked = ({ way }: { way: LevelWay }): boolean => way === 'snmp' || way === 'http' || way === 'command';

const onlyHere = (): ApiProblem =>
  new ApiProblem(403, 'Only there', 'A command is chosen at the computer that Kivram runs on: it is run there.');

async function rowOf(
  linkId: string,
  end: End,
): Promise<{ row: LevelSourceRow | null; radioId: string; peerId: string }> {
  const radios = await radiosOf(linkId);
  const [radioId, peerId] = [radios[end], radios[otherEnd(end)]];
  return { row: await LevelSourceRow.findOne({ where: { radioId, peerId } }), radioId, peerId };
}

/** What is stored in the clear: nothing of the other ways, and no secret. */
function settingOf(
  { way, snmp, http, command, lightsDbm, outsideAddress }: LevelSourceBody,
  isHere: boolean,
): SourceSetting {
  const outside = outsideAddress !== undefined && { outsideAddress };
  if (way === 'snmp' && snmp) return { snmp: bare(snmp), ...outside };
  if (way === 'http' && http) return { http: bare(http), ...outside, isFromHere: isHere };
  if (way === 'command' && command) return { command };
  return way === 'typed' && lightsDbm?.length ? { lightsDbm: [...lightsDbm].sort((a, b) => a - b) } : {};
}

const secretNames: readonly SourceSecret[] = ['community', 'authPassword', 'privPassword', 'password'];

function bare<Access extends object>(access: Access): Access {
  return Object.fromEntries(
    Object.entries(access).filter(([name]) => !(secretNames as readonly string[]).includes(name)),
  ) as Access;
}

/** Secrets go to no other place than they were typed for: scheme, host, port and certificate. */
function secretsOf(
  body: LevelSourceBody,
  row: Pick<LevelSourceRow, 'way' | 'setting' | 'secrets'> | null,
): SourceSecrets {
  const typed = { ...body.snmp, ...body.http } as SourceSecrets;
  const kept = row && placeOf(row.way, row.setting) === placeOf(body.way, body) ? (row.secrets ?? {}) : {};
  const secrets: SourceSecrets = {};
  for (const name of secretNames) {
    const secret = typed[name] ?? kept[name];
    if (secret !== undefined) secrets[name] = secret;
  }
  return secrets;
}

/** A way of reading as it is written into a job's file. */
export function sourceBody(row: LevelSourceRow, withSecrets: boolean): LevelSourceBody {
  const { snmp, http, command, lightsDbm, outsideAddress } = row.setting;
  const { community, authPassword, privPassword, password } = (withSecrets && row.secrets) || {};
  const known = <Secrets extends object>(secrets: Secrets): Secrets => JSON.parse(JSON.stringify(secrets)) as Secrets;
  return {
    version: row.version,
    way: row.way,
    ...(row.profileId && { profileId: row.profileId }),
    ...(snmp && { snmp: { ...snmp, ...known({ community, authPassword, privPassword }) } }),
    ...(http && { http: { ...http, ...known({ password }) } }),
    ...known({ command, lightsDbm, outsideAddress }),
  };
}

/** One that is stored, with its secrets in the clear. */
export interface KeptSource {
  way: LevelWay;
  setting: SourceSetting;
  secrets: SourceSecrets | null;
  allowedCommand: string | null;
}

/**
 * The columns of one that comes in a job's file. Who brings a file may sit anywhere: it allows nothing. What was allowed here stays, and secrets that are not in it, as far as
 * they are for the same place.
 * @param kept what is stored here of the job that the file replaces
 */
export function sourceColumns(
  body: LevelSourceBody,
  kept: KeptSource | null,
): KeptSource & { profileId: string | null } {
  const { outsideAddress, ...safe } = body;
  const wasMeant = outsideAddress !== undefined && kept?.setting.outsideAddress === outsideAddress;
  const wasNamed = kept?.setting.command?.name === body.command?.name;
  return {
    way: body.way,
    profileId: isAsked(body) ? (body.profileId ?? null) : null,
    setting: settingOf(wasMeant ? body : safe, false),
    secrets: secretsOf(body, kept),
    allowedCommand: body.way === 'command' && wasNamed ? (kept?.allowedCommand ?? null) : null,
  };
}

/** Scheme, host and port; what is no address is only itself. */
function originOf(url: string): string {
  try {
    return urlIn(url).origin;
  } catch {
    return url;
  }
}

function placeOf(way: string, { snmp, http }: SourceSetting): string {
  if (way === 'snmp') return `snmp ${snmp?.version ?? ''} ${snmp?.host ?? ''} ${snmp?.port ?? ''}`;
  if (way !== 'http' || !http) return way;
  return `${originOf(http.url)} ${http.ownCertificate} ${http.certificate ?? ''}`;
}

/** Whether an end of a link is read by asking a device. */
export async function asksDevices(linkId: string): Promise<boolean> {
  const rows = [await rowOf(linkId, 'near'), await rowOf(linkId, 'far')];
  return rows.some(({ row }) => row !== null && isAsked(row));
}
