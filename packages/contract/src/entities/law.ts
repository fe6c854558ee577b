import 'reflect-metadata';
import { narrowbandStepNames } from '@kivram/core/radio/kinds/narrowband';
import type { LocalRule as LocalRulePlan } from '@kivram/core/spectrum/jobLaw';
import type { Licence as LicencePlan } from '@kivram/core/spectrum/licence';
import { IsBoolean, IsOptional, IsUUID } from 'class-validator';
import { Between, Count, Day, OneOf, Text } from '../decorators';

/** What was noted for one job on top of the country's rules: a restriction, or what an authority permits; see `core/spectrum/jobLaw`. What it is founded on stays on record. */
export class LocalRuleFields implements LocalRulePlan {
  @Between(100, 100000, 'MHz') lowestMHz!: number;
  @Between(100, 100000, 'MHz') highestMHz!: number;
  @Between(-20, 100, 'dBm') mostEirpDbm!: number;
  @IsOptional() @Between(0.00625, 2160, 'MHz') mostWidthMHz!: number | null;
  /** whether radios must give way to radar there */
  @IsBoolean() radar!: boolean;
  @Text(10, 500) reason!: string;
  /** the last day on which it permits this; null: it restricts */
  @IsOptional() @Day() permitUntil!: string | null;
  @IsOptional() @IsBoolean() permitsOutdoors!: boolean;
}

export class LocalRule extends LocalRuleFields {
  @IsUUID() id!: string;
  @Count() version!: number;
}

/** A licence for a pair of frequencies; see `core/spectrum/licence`. */
export class LicenceFields implements LicencePlan {
  @Text(1, 60) number!: string;
  @Text(0, 120) holder!: string;
  @Between(100, 100000, 'MHz') centreMHz!: number;
  @Between(100, 100000, 'MHz') returnMHz!: number;
  @Between(0.00625, 2160, 'MHz') widthMHz!: number;
  @IsOptional() @Between(0.001, 2160, 'MHz') occupiedMHz!: number | null;
  @Between(-20, 100, 'dBm') mostEirpDbm!: number;
  @IsOptional() @OneOf(narrowbandStepNames) modulation!: string | null;
  @IsOptional() @Day() validFrom!: string | null;
  @Day() validUntil!: string;
  @IsOptional() @IsUUID() lowPlaceId!: string | null;
  @IsOptional() @IsUUID() highPlaceId!: string | null;
  @Text(0, 2000) terms!: string;
}

export class Licence extends LicenceFields {
  @IsUUID() id!: string;
  @Count() version!: number;
}
