import 'reflect-metadata';
import { airKinds, type Air as AirPlan } from '@kivram/core/air/air';
import { protocols } from '@kivram/core/radio/kinds';
import { IsBoolean, IsOptional, IsUUID } from 'class-validator';
import { Between, Count, OneOf } from '../decorators';

/** The spectrum that a set of radios shares: channel, width and protocol stand here once, so that nobody on it can disagree. */
export class Air implements AirPlan {
  @IsUUID() id!: string;
  @OneOf(airKinds) kind!: AirPlan['kind'];
  @Between(100, 100000, 'MHz') centreMHz!: number;
  @IsOptional() @Between(100, 100000, 'MHz') returnMHz!: number | null;
  @Between(0.00625, 2160, 'MHz') widthMHz!: number;
  @OneOf(protocols) protocol!: AirPlan['protocol'];
  @IsBoolean() errorCorrection!: boolean;
  /** of a licensed pair: the licence that it is planned by */
  @IsOptional() @IsUUID() licenceId!: string | null;
  @Count() version!: number;
}
