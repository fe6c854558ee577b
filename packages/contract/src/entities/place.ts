import 'reflect-metadata';
import { IsOptional, IsUUID } from 'class-validator';
import { Between, Count, OneOf, Text } from '../decorators';

/** A site carries radios; a landmark is something to aim by. */
export const placeKinds = ['site', 'landmark'] as const;
export type PlaceKind = (typeof placeKinds)[number];

/** A position with what stands there. */
export class Place {
  @IsUUID() id!: string;
  @Text(1, 60) name!: string;
  @Between(-90, 90, 'degrees') latitudeDeg!: number;
  @Between(-180, 180, 'degrees') longitudeDeg!: number;
  @Between(-430, 9000, 'm above sea level') groundHeightM!: number;
  @IsOptional() @OneOf(placeKinds) kind!: PlaceKind;
  @Text(0, 2000) note!: string;
  @Count() version!: number;
}

/** A point on WGS84. */
export class GeoPoint {
  @Between(-90, 90, 'degrees') latitudeDeg!: number;
  @Between(-180, 180, 'degrees') longitudeDeg!: number;
}
