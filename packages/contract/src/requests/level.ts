import 'reflect-metadata';
import { levelWays, type LevelWay } from '@kivram/core/aiming/levelWay';
import { ends, type End } from '@kivram/core/budget/plan';
import { IsBoolean, IsIn, IsInt, IsOptional, IsUrl, IsUUID, Matches, Min, ValidateIf } from 'class-validator';
import { Between, ListOf, MayBeLeftOut, Nested, NumbersBetween, OneOf, Text, WholeBetween } from '../decorators';

export const snmpVersions = ['1', '2c', '3'] as const;
/** RFC 3414 (MD5 and SHA-1) and RFC 7860 (SHA-2); AES of RFC 3826 and, as common practice, with 256 bits. The DES of RFC 3414 is no longer in Node.js. */
export const snmpAuthProtocols = ['none', 'md5', 'sha', 'sha256', 'sha512'] as const;
export const snmpPrivProtocols = ['none', 'aes', 'aes256'] as const;

const host = (): PropertyDecorator => (target, key) => {
  Text(1, 253)(target, key as string);
  Matches(/^[\w.:-]+$/, { message: '$property is "$value": it must be an address like 192.168.1.20, or a name' })(
    target,
    key as string,
  );
};

/** A secret that is left out stays what it was. */
const secret = (): PropertyDecorator => (target, key) => {
  MayBeLeftOut()(target, key as string);
  Text(1, 100)(target, key as string);
  Matches(/^[^•]/, { message: '$property must be written out' })(target, key as string);
};

export class SnmpAccess {
  @host() host!: string;
  @WholeBetween(1, 65_535) port!: number;
  @OneOf(snmpVersions) version!: (typeof snmpVersions)[number];
  /** of versions 1 and 2c */
  @secret() community?: string;
  /** of version 3 */
  @ValidateIf((access: SnmpAccess) => access.version === '3')
  @Text(1, 60)
  userName?: string;
  @ValidateIf((access: SnmpAccess) => access.version === '3')
  @OneOf(snmpAuthProtocols)
  authProtocol?: (typeof snmpAuthProtocols)[number];
  @secret() authPassword?: string;
  @ValidateIf((access: SnmpAccess) => access.version === '3')
  @OneOf(snmpPrivProtocols)
  privProtocol?: (typeof snmpPrivProtocols)[number];
  @secret() privPassword?: string;
}

export class HttpAccess {
  @Text(8, 500)
  @IsUrl(
    { protocols: ['http', 'https'], require_protocol: true, require_tld: false, disallow_auth: true },
    { message: '$property is "$value": it must be an address like http://192.168.1.20/status.json' },
  )
  // A name of a network card behind the address (RFC 6874) is none that whoever asks it could take apart.
  @Matches(/^(?!\w+:\/\/[^/?#]*%)/, {
    message: '$property is "$value": write its address without a per cent sign, like http://192.168.1.20/status.json',
  })
  url!: string;
  /** Basic authentication, RFC 7617 */
  @MayBeLeftOut() @Text(0, 60) userName?: string;
  @secret() password?: string;
  /** radios vouch for themselves: their certificate is nobody's */
  @IsBoolean() ownCertificate!: boolean;
  /** the one that was confirmed, by its SHA-256 fingerprint */
  @MayBeLeftOut()
  @Matches(/^([0-9A-F]{2}:){31}[0-9A-F]{2}$/, {
    message: '$property is "$value": it must be a SHA-256 fingerprint like 4F:09: and so on',
  })
  certificate?: string;
}

/** What is run under a name is a setting of the computer that Kivram runs on, never of a job. */
export class CommandAccess {
  @Text(1, 60) name!: string;
}

/** Where the level at one end of a link comes from. */
export class LevelSourceBody {
  /** the version that was changed; -1 where there was none */
  @IsInt() @Min(-1) version!: number;
  @OneOf(levelWays) way!: LevelWay;
  @ValidateIf(({ way }: LevelSourceBody) => way === 'snmp' || way === 'http' || way === 'command')
  @IsUUID(undefined, { message: 'profileId must be chosen: what to read is written in a profile' })
  profileId?: string;
  @ValidateIf(({ way }: LevelSourceBody) => way === 'snmp')
  @Nested(() => SnmpAccess)
  snmp?: SnmpAccess;
  @ValidateIf(({ way }: LevelSourceBody) => way === 'http')
  @Nested(() => HttpAccess)
  http?: HttpAccess;
  @ValidateIf(({ way }: LevelSourceBody) => way === 'command')
  @Nested(() => CommandAccess)
  command?: CommandAccess;
  /** the level at which each of the radio's lights comes on, the first one first; none where figures are typed */
  @MayBeLeftOut()
  @NumbersBetween(-120, 0, 'dBm', [0, 8])
  lightsDbm?: number[];
  /** the address that lies outside of private networks and is meant all the same */
  @MayBeLeftOut() @Text(1, 253) outsideAddress?: string;
}

/** What a device answers is looked through before anything is stored. */
export class AskDeviceBody {
  @Nested(() => LevelSourceBody) source!: LevelSourceBody;
  /** by SNMP: the branch that is walked */
  @MayBeLeftOut()
  @Matches(/^\.?\d+(\.\d+){1,60}$/, { message: 'branch is "$value": it must be figures and dots like 1.3.6.1' })
  branch?: string;
}

export const profileWays = ['snmp', 'json'] as const;
export const valueTypes = ['number', 'text', 'float'] as const;

/** One value that a device tells: where it stands, and what makes dB, dBm or Mbit/s of it. */
export class ProfileValue {
  /** an object identifier, in which {mac} stands for the other radio's hardware address; or a JSON Pointer (RFC 6901) */
  @Text(0, 200)
  where!: string;
  /** as a number; the first number in a text; or a float in an Opaque (as common practice, no standard) */
  @OneOf(valueTypes) type!: (typeof valueTypes)[number];
  /** what it is multiplied by */
  @Between(-1e6, 1e6, '') scale!: number;
  /** and what is added then */
  @Between(-1000, 1000, '') offset!: number;
}

const value = (): PropertyDecorator => (target, key) => {
  IsOptional()(target, key as string);
  Nested(() => ProfileValue)(target, key as string);
};

/** What is read of a kind of radio, and where it stands. */
export class LevelProfileBody {
  /** the version that was changed; -1 where there was none */
  @IsInt() @Min(-1) version!: number;
  @Text(1, 60) name!: string;
  @OneOf(profileWays) way!: (typeof profileWays)[number];
  @value() level!: ProfileValue | null;
  @ListOf(() => ProfileValue, 8) chains!: ProfileValue[];
  @value() noise!: ProfileValue | null;
  @value() txRate!: ProfileValue | null;
  @value() rxRate!: ProfileValue | null;
}

export class ImportProfilesBody {
  @Text(2, 1_000_000) text!: string;
}

/** A level that somebody read off the radio. */
export class TypedLevelBody {
  @IsUUID() id!: string;
  @OneOf(ends) end!: End;
  /** null: nothing is heard */
  @ValidateIf((_body, value) => value !== null)
  @Between(-120, 20, 'dBm')
  rslDbm!: number | null;
}

/** A table with times that was pasted, or a CSV file. */
export class LevelTableBody {
  @OneOf(ends) end!: End;
  @Text(1, 1_000_000) text!: string;
  /** how old its last line is, seconds, by the eye of whoever pastes it; left out where its times are to be believed */
  @MayBeLeftOut()
  @Between(0, 36_000, 's')
  lastAgoS?: number;
}

/** What a phone on the antenna tells of its attitude. */
export class AngleBody {
  @OneOf(ends) end!: End;
  /** turned to the right since it began, degrees */
  @Between(-100_000, 100_000, 'degrees') azimuthDeg!: number;
  /** up against the horizontal, degrees */
  @Between(-180, 180, 'degrees') tiltDeg!: number;
  @IsIn(['relative', 'compass']) azimuthBy!: 'relative' | 'compass';
}
