import 'reflect-metadata';
import { bands } from '@kivram/core/gear/model';
import { roles, securities, type Sheet } from '@kivram/core/pairing/sheet';
import { protocols } from '@kivram/core/radio/kinds';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsByteLength,
  IsIP,
  IsMACAddress,
  IsNumber,
  IsOptional,
  Matches,
  ValidateIf,
} from 'class-validator';
import { Between, Count, Nested, OneOf, Text, WholeBetween } from './decorators';

const addressMessage = '$property is "$value": it must be four numbers from 0 to 255, like 10.20.0.7';

/** The settings of one radio, as they cross the wire. The rules are those of IEEE 802.11 and of IPv4. A passphrase that is not shown comes and goes as what stands for it. */
export class SheetBody implements Sheet {
  @OneOf(roles) role!: Sheet['role'];
  @IsByteLength(1, 32, { message: 'networkName must have 1 to 32 bytes; accents count double' }) networkName!: string;
  @OneOf(securities) security!: Sheet['security'];
  @ValidateIf((sheet: SheetBody) => sheet.security !== 'open' || sheet.passphrase !== null)
  @Matches(/^([\x20-\x7e]{8,63}|•[\w-]+\.[\w-]+\..{0,100})$/, {
    message: 'passphrase must have 8 to 63 plain characters, without accents',
  })
  passphrase!: string | null;
  @OneOf(bands) band!: Sheet['band'];
  @Between(100, 100000, 'MHz') centreMHz!: number;
  @IsArray() @ArrayMaxSize(60) @IsNumber({}, { each: true }) scanMHz!: number[];
  @Between(0.00625, 2160, 'MHz') widthMHz!: number;
  @IsBoolean() followsWidth!: boolean;
  @OneOf(protocols) protocol!: Sheet['protocol'];
  @IsBoolean() ptpOnly!: boolean;
  @IsBoolean() bridge!: boolean;
  @Between(-20, 60, 'dBm') conductedDbm!: number;
  @Matches(/^[A-Z]{2}$/, { message: 'country is "$value": it must be two capital letters' }) country!: string;
  @IsIP(4, { message: addressMessage }) address!: string;
  @WholeBetween(8, 32, 'bits of network part') prefix!: number;
  @IsOptional() @IsIP(4, { message: addressMessage }) gateway!: string | null;
  @Text(1, 63) deviceName!: string;
  @Text(0, 40) firmware!: string;
  @IsArray()
  @ArrayMaxSize(16)
  @IsMACAddress({ each: true, message: 'neighbours must be hardware addresses like 02:1a:2b:3c:4d:5e' })
  neighbours!: string[];
  @IsBoolean() errorCorrection!: boolean;
  @IsOptional() @Between(100, 100000, 'MHz') txMHz!: number | null;
  @IsOptional() @Between(100, 100000, 'MHz') rxMHz!: number | null;
}

/** Saves both sheets of a link. `revision` is the one the editor started from: 0 when there was none. */
export class SaveSheetsBody {
  @Nested(() => SheetBody) near!: SheetBody;
  @Nested(() => SheetBody) far!: SheetBody;
  @Count(0) nearRevision!: number;
  @Count(0) farRevision!: number;
}
