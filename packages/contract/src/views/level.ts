import type { NamedCommand } from '../entities/command';
import type { LevelWay } from '@kivram/core/aiming/levelWay';
import type { CommandAccess, HttpAccess, LevelProfileBody, SnmpAccess } from '../requests/level';

/** Names of what is kept sealed of a source. */
export type SourceSecret = 'community' | 'authPassword' | 'privPassword' | 'password';

/** Where the level at one end comes from. Secrets are told by their names only. */
export interface LevelSourceView {
  version: number;
  way: LevelWay;
  profileId: string | null;
  snmp: Omit<SnmpAccess, SourceSecret> | null;
  http: Omit<HttpAccess, SourceSecret> | null;
  command: CommandAccess | null;
  /** whether that command, as it stands on this computer now, was allowed to run for this end */
  isCommandAllowed: boolean;
  lightsDbm: number[];
  /** the address outside of private networks that was confirmed */
  outsideAddress: string | null;
  secretsKept: SourceSecret[];
}

/** The commands of the computer that Kivram runs on, as its owner has written them down. */
export interface CommandsView {
  /** where they stand; null where none are run */
  file: string | null;
  commands: NamedCommand[];
  /** why none can be run, in words */
  trouble: string | null;
}

export interface LevelSourcesView {
  near: LevelSourceView;
  far: LevelSourceView;
}

export interface LevelProfile extends LevelProfileBody {
  id: string;
  /** ends that are read by it */
  used: number;
}

export const profileDocumentFormat = 'kivram-level-profiles';
export const profileDocumentVersion = 1;

/** Profiles as one file; see docs/level-profiles.md. */
export interface ProfileDocument {
  format: typeof profileDocumentFormat;
  formatVersion: typeof profileDocumentVersion;
  profiles: (Omit<LevelProfileBody, 'version'> & { id: string })[];
}

export interface ProfilesImport {
  taken: string[];
  refused: { name: string; reasons: string[] }[];
}

/** One value of a device's answer. */
export interface DeviceValue {
  where: string;
  /** as it came, cut where it is long */
  text: string;
  /** the number in it; null where there is none */
  number: number | null;
  type: LevelProfileBody['chains'][number]['type'];
}

/** What a device answered when it was looked through. */
export interface DeviceAnswer {
  values: DeviceValue[];
  /** whether that is all: a walk ends after some seconds */
  isWhole: boolean;
  /** how long one question took, ms */
  tookMs: number;
}

/** What became of a pasted table. */
export interface LevelTableResult {
  taken: number;
  known: number;
  refused: { line: number; reason: string }[];
  /** columns that were not used, by the names in their heads */
  unused: string[];
}

/** What the page of a stand-in radio shows, and what it has noted since somebody looked at it. */
export interface StandinPage {
  rslDbm: number | null;
  chainsDbm: number[];
  noiseDbm: number;
  txMbps: number;
  rxMbps: number;
  log: { at: string; rslDbm: number | null }[];
}

/** Where a stand-in radio answers by SNMP. */
export interface StandinAgent {
  host: string;
  port: number;
  community: string;
  userName: string;
  authPassword: string;
  privPassword: string;
  lossShare: number;
  delayMs: number;
}
