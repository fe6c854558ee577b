import 'reflect-metadata';
import { polarisations, type Polarisation } from '@kivram/core/path/polarisation';
import { protocols, type Protocol } from '@kivram/core/radio/kinds';
import { IsBoolean, IsOptional, IsUUID } from 'class-validator';
import { Between, Count, Moment, Nested, OneOf, Text } from '../decorators';
import { CableRunFields } from './radio';

/** What is chosen at one end. */
export class EndChoices {
  @Text(1, 60) modelId!: string;
  @Between(0, 300, 'm above ground') mountHeightM!: number;
  @Between(-20, 60, 'dBm') conductedDbm!: number;
  @Between(0, 30, 'dB') cableLossDb!: number;
  @IsOptional() @Nested(() => CableRunFields) cable!: CableRunFields | null;
  @Between(0, 45, 'degrees') aimOffDeg!: number;
  @Between(0, 60, 'dB') interferenceDb!: number;
  @OneOf(polarisations) polarisation!: Polarisation;
}

/** All that a plan of a link chooses, and what weather and year it was tried with. */
export class PlanChoices {
  @Between(100, 100000, 'MHz') centreMHz!: number;
  @IsOptional() @Between(100, 100000, 'MHz') returnMHz!: number | null;
  @Between(0.00625, 2160, 'MHz') widthMHz!: number;
  @OneOf(protocols) protocol!: Protocol;
  @IsBoolean() errorCorrection!: boolean;
  /** that a licensed pair is planned by; left out by what was kept before licences were chosen */
  @IsOptional() @IsUUID() licenceId?: string | null;
  @Nested(() => EndChoices) near!: EndChoices;
  @Nested(() => EndChoices) far!: EndChoices;
  @Between(0, 100000, 'Mbit/s') needNearToFarMbps!: number;
  @Between(0, 100000, 'Mbit/s') needFarToNearMbps!: number;
  @Between(0, 60, 'dB') wantedMarginDb!: number;
  /** null: that of the job */
  @IsOptional() @Between(0, 400, 'mm/h') rainMmPerH!: number | null;
  /** that trees had grown */
  @Between(0, 100, 'years') treeYears!: number;
}

export class AlternativeFields {
  @Text(1, 60) name!: string;
  @Nested(() => PlanChoices) choices!: PlanChoices;
}

/** A plan of a link that was tried and kept beside the one in place. */
export class Alternative extends AlternativeFields {
  @IsUUID() id!: string;
  @Moment() madeAt!: string;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @Count() version!: number;
}
