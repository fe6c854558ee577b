import 'reflect-metadata';
import { polarisations, type Polarisation } from '@kivram/core/path/polarisation';
import { protocols, type Protocol } from '@kivram/core/radio/kinds';
import { IsBoolean, IsMACAddress, IsOptional, IsUUID } from 'class-validator';
import { Between, Count, MayBeLeftOut, Nested, OneOf, Text } from '../decorators';
import { CableRunFields } from '../entities/radio';

/** Changes of what a link's radios share; they hold for every link on that air. */
export class AirChange {
  @Count() version!: number;
  @MayBeLeftOut() @Between(100, 100000, 'MHz') centreMHz?: number;
  @MayBeLeftOut() @Between(100, 100000, 'MHz') returnMHz?: number;
  @MayBeLeftOut() @Between(0.00625, 2160, 'MHz') widthMHz?: number;
  @MayBeLeftOut() @OneOf(protocols) protocol?: Protocol;
  @MayBeLeftOut() @IsBoolean() errorCorrection?: boolean;
  /** null: none */
  @IsOptional() @IsUUID() licenceId?: string | null;
}

/** Changes of a radio at its place; they hold for every link of that radio. */
export class RadioBody {
  @Count() version!: number;
  /** another place: the radio goes there with all its links */
  @MayBeLeftOut() @IsUUID() placeId?: string;
  /** other gear, in its newest revision unless one is said */
  @MayBeLeftOut() @Text(1, 60) modelId?: string;
  @MayBeLeftOut() @Count(1) modelRevision?: number;
  /** null takes it away */
  @IsOptional() @Text(1, 60) serial?: string | null;
  @IsOptional() @IsMACAddress() mac?: string | null;
  @MayBeLeftOut() @Text(0, 2000) note?: string;
  @MayBeLeftOut() @Between(0, 300, 'm above ground') mountHeightM?: number;
  @MayBeLeftOut() @OneOf(polarisations) polarisation?: Polarisation;
  @MayBeLeftOut() @Between(-20, 60, 'dBm') conductedDbm?: number;
  @MayBeLeftOut() @Between(0, 30, 'dB') cableLossDb?: number;
  /** null takes it away */
  @IsOptional() @Nested(() => CableRunFields) cable?: CableRunFields | null;
  @MayBeLeftOut() @Between(0, 45, 'degrees') aimOffDeg?: number;
  @MayBeLeftOut() @Between(0, 60, 'dB') interferenceDb?: number;
  @MayBeLeftOut() @Between(0, 360, 'degrees') azimuthDeg?: number;
  @MayBeLeftOut() @Between(-90, 90, 'degrees') tiltDeg?: number;
}

/** Changes of a link's plan, with its air and its radios, all of it or nothing; what is left out stays. Each part carries the version it was based on. */
export class LinkPlanBody {
  @Count() version!: number;
  @MayBeLeftOut() @Text(1, 80) name?: string;
  @MayBeLeftOut() @Between(0, 100000, 'Mbit/s') needNearToFarMbps?: number;
  @MayBeLeftOut() @Between(0, 100000, 'Mbit/s') needFarToNearMbps?: number;
  @MayBeLeftOut() @Between(0, 60, 'dB') wantedMarginDb?: number;
  @MayBeLeftOut() @Between(0.5, 1000, 'm') shaftLeastM?: number;
  @MayBeLeftOut() @Between(0.5, 1000, 'm') shaftMostM?: number;
  @MayBeLeftOut() @Nested(() => AirChange) air?: AirChange;
  @MayBeLeftOut() @Nested(() => RadioBody) near?: RadioBody;
  @MayBeLeftOut() @Nested(() => RadioBody) far?: RadioBody;
}

/** Near becomes far, and far near. */
export class SwapBody {
  @Count() version!: number;
}
