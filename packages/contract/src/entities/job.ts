import 'reflect-metadata';
import { climateClasses, type ClimateClass } from '@kivram/core/propagation/climate';
import { unitSystems, type UnitSystem } from '@kivram/core/units';
import { IsBoolean, IsOptional, IsUUID, Matches } from 'class-validator';
import { Between, Count, Moment, OneOf, Text } from '../decorators';

/** Where the law comes from: the two capital letters of ISO 3166-1. */
export function Country(): PropertyDecorator {
  return Matches(/^[A-Z]{2}$/, { message: '$property must be the two capital letters of a country, like PT' });
}

/** One customer's installation. */
export class Job {
  @IsUUID() id!: string;
  @Text(1, 80) name!: string;
  @Text(0, 120) customer!: string;
  @Country() country!: string;
  /** what lengths are shown in, unless a browser was switched */
  @IsOptional() @OneOf(unitSystems) units!: UnitSystem;
  /** for trying things out: what stand-in radios do counts as done */
  @IsOptional() @IsBoolean() practice!: boolean;
  /** the weather its links live in; null: guessed from the latitude */
  @IsOptional() @OneOf(climateClasses) climateClass!: ClimateClass | null;
  /** rain rate exceeded for 0.01 % of the year; null: that of the class */
  @IsOptional() @Between(0, 400, 'mm/h') rainMmPerH!: number | null;
  /** since when it is put away; null while it is worked on */
  @IsOptional() @Moment() archivedAt!: string | null;
  @Count() version!: number;
}
