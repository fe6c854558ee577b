import 'reflect-metadata';
import { airRoles, type AirRole } from '@kivram/core/air/air';
import { cableKinds, type CableKind, type CableRun } from '@kivram/core/gear/cable';
import { polarisations, type Polarisation } from '@kivram/core/path/polarisation';
import { IsMACAddress, IsOptional, IsUUID } from 'class-validator';
import { Between, Count, MayBeLeftOut, Moment, Nested, OneOf, Text, WholeBetween } from '../decorators';
import { RadioBasisRecord } from './basis';

/** A run of cable between a radio and an antenna of its own; see `core/gear/cable`. */
export class CableRunFields implements CableRun {
  @OneOf(cableKinds) kind!: CableKind;
  @Between(0, 300, 'm') lengthM!: number;
  @WholeBetween(0, 20) connectors!: number;
}

/** One unit of a model at a place: what it owns goes with it through all its links. */
export class Radio {
  @IsUUID() id!: string;
  @IsUUID() placeId!: string;
  @Text(1, 60) modelId!: string;
  /** the revision of the spec sheet that it was planned with */
  @Count(1) modelRevision!: number;
  @IsUUID() airId!: string;
  @OneOf(airRoles) role!: AirRole;
  @Between(0, 300, 'm above ground') mountHeightM!: number;
  @OneOf(polarisations) polarisation!: Polarisation;
  @Between(-20, 60, 'dBm') conductedDbm!: number;
  @Between(0, 30, 'dB') cableLossDb!: number;
  @IsOptional() @Nested(() => CableRunFields) cable!: CableRunFields | null;
  /** by how much the aim may be off when all is done */
  @MayBeLeftOut() @Between(0, 45, 'degrees') aimOffDeg!: number;
  /** what others' sending may raise the noise by */
  @MayBeLeftOut() @Between(0, 60, 'dB') interferenceDb!: number;
  /** where the antenna points for good; null: at the other end of its link */
  @IsOptional() @Between(0, 360, 'degrees') azimuthDeg!: number | null;
  @IsOptional() @Between(-90, 90, 'degrees') tiltDeg!: number | null;
  @IsOptional() @Text(0, 2000) note!: string;
  @IsOptional() @Text(1, 60) serial!: string | null;
  @IsOptional() @IsMACAddress() mac!: string | null;
  @IsOptional() @Moment() mountedAt!: string | null;
  @IsOptional() @IsUUID() mountedBy!: string | null;
  /** what was true of it when it went up */
  @IsOptional() @Nested(() => RadioBasisRecord) mountBasis!: RadioBasisRecord | null;
  @Count() version!: number;
}
