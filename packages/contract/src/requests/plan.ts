import 'reflect-metadata';
import { protocols, type Protocol } from '@kivram/core';
import { IsBoolean, IsOptional } from 'class-validator';
import { Between, Count, Nested, OneOf } from '../decorators';
import { polarisations } from '../entities';

/** Changes of what a link's radios share; they hold for every link on that air. */
export class AirChange {
  @Count() version!: number;
  @IsOptional() @Between(100, 100000, 'MHz') centreMHz?: number;
  @IsOptional() @Between(100, 100000, 'MHz') returnMHz?: number;
  @IsOptional() @Between(0.00625, 2160, 'MHz') widthMHz?: number;
  @IsOptional() @OneOf(protocols) protocol?: Protocol;
  @IsOptional() @IsBoolean() errorCorrection?: boolean;
}

/** Changes of a radio at its place; they hold for every link of that radio. */
export class RadioBody {
  @Count() version!: number;
  @IsOptional() @Between(0, 300, 'm above ground') mountHeightM?: number;
  @IsOptional() @OneOf(polarisations) polarisation?: (typeof polarisations)[number];
  @IsOptional() @Between(-20, 60, 'dBm') conductedDbm?: number;
  @IsOptional() @Between(0, 30, 'dB') cableLossDb?: number;
  @IsOptional() @Between(0, 360, 'degrees') azimuthDeg?: number;
  @IsOptional() @Between(-90, 90, 'degrees') tiltDeg?: number;
}

/** Changes of a link's plan, with its air and its radios, all of it or nothing; what is left out stays. Each part carries the version it was based on. */
export class LinkPlanBody {
  @Count() version!: number;
  @IsOptional() @Between(0, 100000, 'Mbit/s') needNearToFarMbps?: number;
  @IsOptional() @Between(0, 100000, 'Mbit/s') needFarToNearMbps?: number;
  @IsOptional() @Between(0.5, 1000, 'm') shaftLeastM?: number;
  @IsOptional() @Between(0.5, 1000, 'm') shaftMostM?: number;
  @IsOptional() @Nested(() => AirChange) air?: AirChange;
  @IsOptional() @Nested(() => RadioBody) near?: RadioBody;
  @IsOptional() @Nested(() => RadioBody) far?: RadioBody;
}
