import type { LevelSourceBody } from '@kivram/contract/requests/level';
import type { SourceSecret } from '@kivram/contract/views/level';
import type { LevelWay } from '@kivram/core/aiming/levelWay';
import { type CreationOptional, type Sequelize } from 'sequelize';
import { vault } from '../../secrets/vault';
import { attributes, json, key, Row, tableOptions, text, uuid } from './columns';

export interface SourceSetting extends Pick<
  LevelSourceBody,
  'snmp' | 'http' | 'command' | 'lightsDbm' | 'outsideAddress'
> {
  /** whether it was chosen at the computer that Kivram runs on: only then pages of that computer itself are asked */
  isFromHere?: boolean;
}
export type SourceSecrets = Partial<Record<SourceSecret, string>>;

/** Where the level comes from at which one radio hears another. */
export class LevelSourceRow extends Row<LevelSourceRow> {
  declare radioId: string;
  declare peerId: string;
  declare way: LevelWay;
  declare profileId: string | null;
  /** without its secrets */
  declare setting: SourceSetting;
  declare secrets: SourceSecrets | null;
  /** what stands for the command of this computer that was allowed to run for it; no job's file has it */
  declare allowedCommand: CreationOptional<string | null>;
  declare version: CreationOptional<number>;
}

export function initLevelSource(sequelize: Sequelize): void {
  LevelSourceRow.init(
    attributes({
      radioId: key(uuid),
      peerId: key(uuid),
      way: text,
      profileId: uuid,
      setting: json,
      allowedCommand: text,
      // As passphrases of sheets: the database never has them in the clear.
      secrets: {
        ...text,
        get(this: LevelSourceRow): SourceSecrets | null {
          const stored = this.getDataValue('secrets') as unknown as string | null;
          const opened = stored && vault().open(stored);
          return opened ? (JSON.parse(opened) as SourceSecrets) : null;
        },
        set(this: LevelSourceRow, secrets: SourceSecrets | null) {
          const sealed = secrets && Object.keys(secrets).length ? vault().seal(JSON.stringify(secrets)) : null;
          this.setDataValue('secrets', sealed as never);
        },
      },
    }),
    tableOptions(sequelize, 'LevelSourceRow', 'level_source', 'locked'),
  );
}
