import 'reflect-metadata';
import { obstacleKinds, type End, type ObstacleKind, type StepState } from '@kivram/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsDateString,
  IsInt,
  IsIP,
  IsMACAddress,
  IsObject,
  IsOptional,
  IsUUID,
  ValidateNested,
} from 'class-validator';
import { Between, OneOf, Text, WholeBetween } from './decorators';

export const pathKinds = ['outdoor', 'shaft'] as const;
export const duplexes = ['tdd', 'fdd'] as const;
/** A site carries radios; a landmark is something to aim by. */
export const placeKinds = ['site', 'landmark'] as const;
export type PlaceKind = (typeof placeKinds)[number];
export const confidences = ['measured', 'estimated'] as const;
export const polarisations = ['vertical', 'horizontal', 'dual'] as const;

/** One customer's installation. */
export class Job {
  @IsUUID() id!: string;
  @Text(1, 80) name!: string;
  @Text(0, 120) customer!: string;
  /** where the law comes from */
  @Text(2, 2) country!: string;
  @IsInt() version!: number;
}

export class CrewMember {
  @IsUUID() id!: string;
  @Text(1, 60) name!: string;
}

/** A position with what stands there. */
export class Place {
  @IsUUID() id!: string;
  @Text(1, 60) name!: string;
  @Between(-90, 90, 'degrees') latitudeDeg!: number;
  @Between(-180, 180, 'degrees') longitudeDeg!: number;
  @Between(-430, 9000, 'm above sea level') groundHeightM!: number;
  @IsOptional() @OneOf(placeKinds) kind!: PlaceKind;
  @Text(0, 400) note!: string;
  @IsInt() version!: number;
}

/** A point on WGS84. */
export class GeoPoint {
  @Between(-90, 90, 'degrees') latitudeDeg!: number;
  @Between(-180, 180, 'degrees') longitudeDeg!: number;
}

/** What an installer says about something in the way; the terrain does not know it. */
export class ObstacleFields {
  @Text(0, 60) name!: string;
  @OneOf(obstacleKinds) kind!: ObstacleKind;
  /** a point, or the corners of a line; empty for water */
  @IsArray() @ArrayMaxSize(50) @ValidateNested({ each: true }) @Type(() => GeoPoint) footprint!: GeoPoint[];
  @Between(0, 5000, 'm wide') widthM!: number;
  @Between(-20, 500, 'm high') heightM!: number;
  @Between(0, 10, 'm a year') growthMPerYear!: number;
  @WholeBetween(1950, 2200) measuredYear!: number;
  @OneOf(confidences) confidence!: (typeof confidences)[number];
}

export class Obstacle extends ObstacleFields {
  @IsUUID() id!: string;
  @IsInt() version!: number;
}

/** One unit of a model at a place. */
export class Radio {
  @IsUUID() id!: string;
  @IsUUID() placeId!: string;
  @Text(1, 60) modelId!: string;
  @Between(0, 300, 'm above ground') mountHeightM!: number;
  @OneOf(polarisations) polarisation!: (typeof polarisations)[number];
  @IsOptional() @Text(1, 60) serial!: string | null;
  @IsOptional() @IsMACAddress() mac!: string | null;
  @IsInt() version!: number;
}

/** The site's network, as far as it is known. */
export class Network {
  @IsUUID() id!: string;
  @IsIP(4) subnetAddress!: string;
  @WholeBetween(8, 30) prefix!: number;
  @IsOptional() @IsIP(4) gateway!: string | null;
  @IsOptional() @IsIP(4) dhcpFirst!: string | null;
  @IsOptional() @IsIP(4) dhcpLast!: string | null;
  /** what the feed delivers */
  @IsOptional() @Between(0, 100000, 'Mbit/s') feedMbps!: number | null;
  @IsInt() version!: number;
}

export class KnownDevice {
  @IsUUID() id!: string;
  @Text(1, 60) name!: string;
  @IsIP(4) address!: string;
}

/** A near radio and a far radio with the plan between them. */
export class Link {
  @IsUUID() id!: string;
  @IsUUID() jobId!: string;
  @Text(1, 80) name!: string;
  @IsUUID() nearRadioId!: string;
  @IsUUID() farRadioId!: string;
  @OneOf(pathKinds) pathKind!: (typeof pathKinds)[number];
  @OneOf(duplexes) duplex!: (typeof duplexes)[number];
  @Between(100, 100000, 'MHz') centreMHz!: number;
  @Between(0.00625, 2160, 'MHz') widthMHz!: number;
  @OneOf(['802.11', 'slots']) protocol!: '802.11' | 'slots';
  @Between(-20, 60, 'dBm') nearConductedDbm!: number;
  @Between(-20, 60, 'dBm') farConductedDbm!: number;
  @Between(0, 30, 'dB') nearCableLossDb!: number;
  @Between(0, 30, 'dB') farCableLossDb!: number;
  @Between(0, 100000, 'Mbit/s') needNearToFarMbps!: number;
  @Between(0, 100000, 'Mbit/s') needFarToNearMbps!: number;
  @IsOptional() @IsDateString() nearMountedAt!: string | null;
  @IsOptional() @IsDateString() farMountedAt!: string | null;
  /** how near and how far the moving car of a shaft comes */
  @IsOptional() @Between(0.5, 1000, 'm') shaftLeastM!: number | null;
  @IsOptional() @Between(0.5, 1000, 'm') shaftMostM!: number | null;
  @IsInt() version!: number;
}

export const eventKinds = ['link', 'plan', 'settings', 'bench', 'mount', 'alignment', 'test', 'job'] as const;
export type EventKind = (typeof eventKinds)[number];

/** One line of the timeline: who did what when. */
export class Event {
  @IsInt() id!: number;
  @IsOptional() @IsUUID() linkId!: string | null;
  @IsDateString() at!: string;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @OneOf(eventKinds) kind!: EventKind;
  @Text(1, 400) summary!: string;
  @IsObject() detail!: Record<string, unknown>;
}

/** Where a link stands in the order of work. */
export interface LinkState {
  steps: StepState[];
  next: (StepState & { end: End | 'both' }) | null;
}

export class Health {
  @IsBoolean() ready!: boolean;
}
