import type { LevelSourceBody } from '@kivram/contract/requests/level';
import type { LevelSourceView, SourceSecret } from '@kivram/contract/views/level';
import type { LevelWay } from '@kivram/core/aiming/levelWay';
import { numberIn, type TypedNumber } from '../parts/NumberField';

/** A way of reading as it is typed: everything of every way, so that nothing is lost when another way is looked at. Secrets are not in it. */
export interface SourceDraft {
  way: LevelWay;
  profileId: string | null;
  host: string;
  port: TypedNumber;
  version: '1' | '2c' | '3';
  userName: string;
  authProtocol: NonNullable<NonNullable<LevelSourceBody['snmp']>['authProtocol']>;
  privProtocol: NonNullable<NonNullable<LevelSourceBody['snmp']>['privProtocol']>;
  url: string;
  httpUserName: string;
  ownCertificate: boolean;
  /** the radio's own that was confirmed, by its fingerprint */
  certificate: string;
  command: string;
  lights: string;
}

export type TypedSecrets = Partial<Record<SourceSecret, string>>;

/** SNMP's own port (RFC 3430, section 4; the service name registry of IANA). */
const snmpPort = 161;

/** @param benchAddress where the radio was set up to be found, for one that is not reached yet; empty for none */
export function draftOf(
  { way, profileId, snmp, http, command, lightsDbm }: LevelSourceView,
  benchAddress: string,
): SourceDraft {
  return {
    way,
    profileId,
    host: snmp?.host ?? benchAddress,
    port: snmp?.port ?? snmpPort,
    version: snmp?.version ?? '2c',
    userName: snmp?.userName ?? '',
    authProtocol: snmp?.authProtocol ?? 'sha',
    privProtocol: snmp?.privProtocol ?? 'aes',
    url: http?.url ?? (benchAddress && `http://${benchAddress}/`),
    httpUserName: http?.userName ?? '',
    ownCertificate: http?.ownCertificate ?? false,
    certificate: http?.certificate ?? '',
    command: command?.name ?? '',
    lights: lightsDbm.join(' '),
  };
}

/** What is sent of a draft. An empty secret is none that was typed: the one that is kept stays. */
export function bodyOf(
  draft: SourceDraft,
  secrets: TypedSecrets,
  version: number,
  outsideAddress: string | null,
): LevelSourceBody {
  const { way } = draft;
  const typed = (name: SourceSecret) => (secrets[name] ? { [name]: secrets[name] } : {});
  const port = numberIn(draft.port);
  return {
    version,
    way,
    ...(draft.profileId && isAskedWay(way) && { profileId: draft.profileId }),
    ...(way === 'snmp' && {
      snmp: {
        host: draft.host.trim(),
        port,
        version: draft.version,
        ...(draft.version === '3'
          ? {
              userName: draft.userName.trim(),
              authProtocol: draft.authProtocol,
              privProtocol: draft.privProtocol,
              ...typed('authPassword'),
              ...typed('privPassword'),
            }
          : typed('community')),
      },
    }),
    ...(way === 'http' && {
      http: {
        url: draft.url.trim(),
        ownCertificate: draft.ownCertificate,
        ...(draft.ownCertificate && draft.certificate && { certificate: draft.certificate }),
        ...(draft.httpUserName.trim() && { userName: draft.httpUserName.trim() }),
        ...typed('password'),
      },
    }),
    ...(way === 'command' && { command: { name: draft.command } }),
    ...(way === 'typed' && { lightsDbm: lightsIn(draft.lights) }),
    ...(outsideAddress && { outsideAddress }),
  };
}

export const isAskedWay = (way: LevelWay): way is 'snmp' | 'http' | 'command' =>
  way === 'snmp' || way === 'http' || way === 'command';

/** Levels of lights, written as people do: with spaces, commas or "and" between them, with or without the unit. What is no number is NaN, which the check refuses. */
export function lightsIn(text: string): number[] {
  // A level under 0 is meant also where the minus was left out.
  return lightWordsIn(text).map((word) => -Math.abs(Number(word)));
}

/** What is wrong with the lights as they are typed, by the word that is; null where nothing is. */
export function wrongLight(text: string): string | null {
  const wrong = lightWordsIn(text).find((word) => !(Math.abs(Number(word)) <= weakestLightDb));
  return wrong === undefined
    ? null
    : `"${wrong}" is no level of a light: type figures from −${weakestLightDb} to 0 dBm, like −85 −75 −65.`;
}

const weakestLightDb = 120;

const lightWordsIn = (text: string): string[] =>
  text
    .replaceAll('−', '-')
    .split(/[\s,;]+|\band\b|dBm/i)
    .filter(Boolean);
