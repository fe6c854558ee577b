import 'reflect-metadata';
import { ends, type End } from '@kivram/core/budget/plan';
import { protocols, type Protocol } from '@kivram/core/radio/kinds';
import { IsBoolean, IsMACAddress, IsOptional, IsUUID, ValidateIf } from 'class-validator';
import { Between, ListOf, Nested, OneOf, Text, WholeBetween } from '../decorators';
import { pathKinds } from '../entities/link';

/** A place typed in for a new link; without a height the terrain's is taken. */
export class NewPlace {
  @Text(1, 60) name!: string;
  @Between(-90, 90, 'degrees') latitudeDeg!: number;
  @Between(-180, 180, 'degrees') longitudeDeg!: number;
  @IsOptional() @Between(-430, 9000, 'm above sea level') groundHeightM?: number;
}

/** An end of a link that stands before in a list. */
export class EarlierEnd {
  @WholeBetween(0, 49) link!: number;
  @OneOf(ends) end!: End;
}

function isNew(end: NewEnd): boolean {
  return !end.radioId && !end.sameAs;
}

/** One end of a new link: a radio that serves other links already, or a new one at a place that exists or is new. */
export class NewEnd {
  /** a hub's or a relay's radio; everything about it stays as it is */
  @IsOptional() @IsUUID() radioId?: string;
  /** the radio of a link before this one in the same list */
  @IsOptional() @Nested(() => EarlierEnd) sameAs?: EarlierEnd;
  @ValidateIf((end: NewEnd) => !end.place && isNew(end)) @IsUUID() placeId?: string;
  /** of two new places of one name in a list, the second is the first */
  @IsOptional() @Nested(() => NewPlace) place?: NewPlace;
  @ValidateIf(isNew) @Text(1, 60) modelId?: string;
  @ValidateIf(isNew) @Between(0, 300, 'm above ground') mountHeightM?: number;
  @ValidateIf(isNew) @Between(-20, 60, 'dBm') conductedDbm?: number;
  /** where the antenna points for good, for a hub; left out: at the other end */
  @IsOptional() @Between(0, 360, 'degrees') azimuthDeg?: number;
  @IsOptional() @Between(-90, 90, 'degrees') tiltDeg?: number;
  @IsOptional() @IsMACAddress() mac?: string;
}

/** How a new link shares the spectrum: on an air of its own, or on the air of the radio that it joins. */
export const newAirKinds = ['pair', 'hub', 'chain', 'duplex'] as const;

export class NewLinkBody {
  @Text(1, 80) name!: string;
  @Nested(() => NewEnd) near!: NewEnd;
  @Nested(() => NewEnd) far!: NewEnd;
  /** left out: a pair, or a licensed pair where the gear is for one; of no account where an end joins an air */
  @IsOptional() @OneOf(newAirKinds) airKind?: (typeof newAirKinds)[number];
  /** left out where an end joins the air of a radio that is there already */
  @ValidateIf(opensAir) @Between(100, 100000, 'MHz') centreMHz?: number;
  @ValidateIf(opensAir) @Between(0.00625, 2160, 'MHz') widthMHz?: number;
  @ValidateIf(opensAir) @OneOf(protocols) protocol?: Protocol;
  /** licensed pairs: what the far end sends on, whether errors are corrected, and the licence they are planned by */
  @IsOptional() @Between(100, 100000, 'MHz') returnMHz?: number;
  @IsOptional() @IsBoolean() errorCorrection?: boolean;
  @IsOptional() @IsUUID() licenceId?: string | null;
  @Between(0, 100000, 'Mbit/s') needNearToFarMbps!: number;
  @Between(0, 100000, 'Mbit/s') needFarToNearMbps!: number;
  @IsOptional() @OneOf(pathKinds) pathKind?: (typeof pathKinds)[number];
  /** of a shaft: how near and how far the car comes */
  @ValidateIf((body: NewLinkBody) => body.pathKind === 'shaft') @Between(0.5, 1000, 'm') shaftLeastM?: number;
  @ValidateIf((body: NewLinkBody) => body.pathKind === 'shaft') @Between(0.5, 1000, 'm') shaftMostM?: number;
}

function opensAir({ near, far }: NewLinkBody): boolean {
  return (!near || isNew(near)) && (!far || isNew(far));
}

/** Links that belong together, all of them or none: a hub with its stations, the hops of a chain. */
export class NewLinksBody {
  @ListOf(() => NewLinkBody, 50) links!: NewLinkBody[];
}
