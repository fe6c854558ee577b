import 'reflect-metadata';
import { IsOptional, IsUUID } from 'class-validator';
import { Between, Count, MayBeLeftOut, OneOf, Text } from '../decorators';

export const pathKinds = ['outdoor', 'shaft'] as const;

/** A near radio and a far radio on one air, with what must cross between them. */
export class Link {
  @IsUUID() id!: string;
  @IsUUID() jobId!: string;
  @IsUUID() airId!: string;
  @Text(1, 80) name!: string;
  @IsUUID() nearRadioId!: string;
  @IsUUID() farRadioId!: string;
  @OneOf(pathKinds) pathKind!: (typeof pathKinds)[number];
  @Between(0, 100000, 'Mbit/s') needNearToFarMbps!: number;
  @Between(0, 100000, 'Mbit/s') needFarToNearMbps!: number;
  /** by how much the level may fade before less crosses than is needed, as it is asked for */
  @MayBeLeftOut() @Between(0, 60, 'dB') wantedMarginDb!: number;
  /** how near and how far the moving car of a shaft comes */
  @IsOptional() @Between(0.5, 1000, 'm') shaftLeastM!: number | null;
  @IsOptional() @Between(0.5, 1000, 'm') shaftMostM!: number | null;
  @Count() version!: number;
}
