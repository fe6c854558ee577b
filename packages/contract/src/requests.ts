import 'reflect-metadata';
import {
  angleSources,
  ends,
  rateUnits,
  type AngleSource,
  type End,
  type MountAxis,
  type RateUnit,
  type Turning,
} from '@kivram/core';
import { Type } from 'class-transformer';
import {
  IsBoolean,
  IsDateString,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import { Between, OneOf, Text } from './decorators';
import { GeoPoint, ObstacleFields, pathKinds, placeKinds, polarisations, type PlaceKind } from './entities';

/** A place typed in for a new link; without a height the terrain's is taken. */
export class NewPlace {
  @Text(1, 60) name!: string;
  @Between(-90, 90, 'degrees') latitudeDeg!: number;
  @Between(-180, 180, 'degrees') longitudeDeg!: number;
  @IsOptional() @Between(-430, 9000, 'm above sea level') groundHeightM?: number;
}

/** One end of a new link: a place that exists, or a new one. */
export class NewEnd {
  @ValidateIf((end: NewEnd) => !end.place) @IsUUID() placeId?: string;
  @IsOptional() @ValidateNested() @Type(() => NewPlace) place?: NewPlace;
  @Text(1, 60) modelId!: string;
  @Between(0, 300, 'm above ground') mountHeightM!: number;
  @Between(-20, 60, 'dBm') conductedDbm!: number;
}

export class NewLinkBody {
  @Text(1, 80) name!: string;
  @ValidateNested() @Type(() => NewEnd) near!: NewEnd;
  @ValidateNested() @Type(() => NewEnd) far!: NewEnd;
  @Between(100, 100000, 'MHz') centreMHz!: number;
  @Between(0.00625, 2160, 'MHz') widthMHz!: number;
  @OneOf(['802.11', 'slots']) protocol!: '802.11' | 'slots';
  @Between(0, 100000, 'Mbit/s') needNearToFarMbps!: number;
  @Between(0, 100000, 'Mbit/s') needFarToNearMbps!: number;
  @IsOptional() @OneOf(pathKinds) pathKind?: (typeof pathKinds)[number];
  /** of a shaft: how near and how far the car comes */
  @ValidateIf((body: NewLinkBody) => body.pathKind === 'shaft') @Between(0.5, 1000, 'm') shaftLeastM?: number;
  @ValidateIf((body: NewLinkBody) => body.pathKind === 'shaft') @Between(0.5, 1000, 'm') shaftMostM?: number;
  @IsUUID() crewMemberId!: string;
}

/** Changes of a link's plan; what is left out stays. */
export class LinkPlanBody {
  @IsInt() version!: number;
  @IsUUID() crewMemberId!: string;
  @IsOptional() @Between(100, 100000, 'MHz') centreMHz?: number;
  @IsOptional() @Between(0.00625, 2160, 'MHz') widthMHz?: number;
  @IsOptional() @OneOf(['802.11', 'slots']) protocol?: '802.11' | 'slots';
  @IsOptional() @Between(-20, 60, 'dBm') nearConductedDbm?: number;
  @IsOptional() @Between(-20, 60, 'dBm') farConductedDbm?: number;
  @IsOptional() @Between(0, 30, 'dB') nearCableLossDb?: number;
  @IsOptional() @Between(0, 30, 'dB') farCableLossDb?: number;
  @IsOptional() @Between(0, 100000, 'Mbit/s') needNearToFarMbps?: number;
  @IsOptional() @Between(0, 100000, 'Mbit/s') needFarToNearMbps?: number;
  @IsOptional() @Between(0.5, 1000, 'm') shaftLeastM?: number;
  @IsOptional() @Between(0.5, 1000, 'm') shaftMostM?: number;
}

/** Changes of a place. Without a height, a place that moves takes the terrain's where `groundFromTerrain` is asked for. */
export class PlaceBody {
  @IsOptional() @IsBoolean() groundFromTerrain?: boolean;
  @IsOptional() @OneOf(placeKinds) kind?: PlaceKind;
  @IsInt() version!: number;
  @IsUUID() crewMemberId!: string;
  @IsOptional() @Text(1, 60) name?: string;
  @IsOptional() @Between(-90, 90, 'degrees') latitudeDeg?: number;
  @IsOptional() @Between(-180, 180, 'degrees') longitudeDeg?: number;
  @IsOptional() @Between(-430, 9000, 'm above sea level') groundHeightM?: number;
}

/** A place put on the map; without a height the terrain's is taken. */
export class NewPlaceBody {
  @Text(1, 60) name!: string;
  @Between(-90, 90, 'degrees') latitudeDeg!: number;
  @Between(-180, 180, 'degrees') longitudeDeg!: number;
  @IsOptional() @Between(-430, 9000, 'm above sea level') groundHeightM?: number;
  @OneOf(placeKinds) kind!: PlaceKind;
  @IsUUID() crewMemberId!: string;
}

/** A file of waypoints: GPX, KML, GeoJSON or CSV. */
export class ImportPlacesBody {
  @Text(1, 200) fileName!: string;
  @IsString() @MaxLength(5_000_000) text!: string;
  @OneOf(placeKinds) kind!: PlaceKind;
  @IsUUID() crewMemberId!: string;
}

export class NewObstacleBody extends ObstacleFields {
  @IsUUID() crewMemberId!: string;
}

export class ObstacleBody extends NewObstacleBody {
  @IsInt() version!: number;
}

/** Two ends of a profile. */
export class ProfileBody {
  @ValidateNested() @Type(() => GeoPoint) near!: GeoPoint;
  @ValidateNested() @Type(() => GeoPoint) far!: GeoPoint;
}

/** Changes of a radio at its place. */
export class RadioBody {
  @IsInt() version!: number;
  @IsUUID() crewMemberId!: string;
  @IsOptional() @Between(0, 300, 'm above ground') mountHeightM?: number;
  @IsOptional() @OneOf(polarisations) polarisation?: (typeof polarisations)[number];
}

/** Who did it. */
export class ByCrewBody {
  @IsUUID() crewMemberId!: string;
}

/** One end is up. The cautions must have been read first. */
export class MountBody {
  @OneOf(ends) end!: End;
  @IsBoolean() mounted!: boolean;
  @IsIn([true], { message: 'read the cautions first, then confirm them' }) cautionsRead!: boolean;
  @IsUUID() crewMemberId!: string;
}

export class NewAlignmentBody {
  @OneOf(angleSources) nearSource!: AngleSource;
  @OneOf(angleSources) farSource!: AngleSource;
  @OneOf(['endByEnd', 'axisByAxis']) order!: 'endByEnd' | 'axisByAxis';
  @IsUUID() crewMemberId!: string;
}

/** Something the installer did, tapped in the aim view. The server stamps the time. */
export class MarkBody {
  @OneOf(['turning', 'notch', 'locked', 'eye']) kind!: 'turning' | 'notch' | 'locked' | 'eye';
  @ValidateIf((mark: MarkBody) => mark.kind === 'turning' || mark.kind === 'notch')
  @IsIn([-1, 0, 1], { message: 'direction must be -1, 0 or 1' })
  direction?: Turning;
}

/** The installer's hands on a stand-in mount. */
export class TurnBody {
  @OneOf(ends) end!: End;
  @OneOf(['azimuth', 'tilt']) axis!: MountAxis;
  @Between(-20, 20, 'degrees') byDeg!: number;
}

export class TightenBody {
  @OneOf(ends) end!: End;
}

/** A file as iperf3 -J wrote it, with the end at which the client ran. */
export class ImportTestBody {
  @Text(1, 200) fileName!: string;
  @IsString() @MaxLength(20_000_000) text!: string;
  @OneOf(ends) clientAt!: End;
  @IsUUID() crewMemberId!: string;
}

export class StandinTestBody {
  @OneOf(['nearToFar', 'farToNear']) direction!: Direction;
  @IsUUID() crewMemberId!: string;
}

/** A speed test read off a screen; the unit must be said. */
export class HandTestBody {
  @OneOf(['nearToFar', 'farToNear']) direction!: Direction;
  @Between(0.001, 100000, '') value!: number;
  @OneOf(rateUnits) unit!: RateUnit;
  @Text(0, 200) note!: string;
  @IsOptional() @IsDateString() at?: string;
  @IsUUID() crewMemberId!: string;
}

export type Direction = 'nearToFar' | 'farToNear';
