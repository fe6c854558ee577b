import 'reflect-metadata';
import { IsBoolean, IsString, MaxLength } from 'class-validator';
import { Between, Count, MayBeLeftOut, Nested, OneOf, Text } from '../decorators';
import { GeoPoint, placeKinds, type PlaceKind } from '../entities/place';
import { placesLimits } from '../views/terrain';

/** Changes of a place. Without a height, a place that moves takes the terrain's where `groundFromTerrain` is asked for. */
export class PlaceBody {
  @MayBeLeftOut() @IsBoolean() groundFromTerrain?: boolean;
  @MayBeLeftOut() @OneOf(placeKinds) kind?: PlaceKind;
  @Count() version!: number;
  @MayBeLeftOut() @Text(1, 60) name?: string;
  @MayBeLeftOut() @Text(0, 2000) note?: string;
  @MayBeLeftOut() @Between(-90, 90, 'degrees') latitudeDeg?: number;
  @MayBeLeftOut() @Between(-180, 180, 'degrees') longitudeDeg?: number;
  @MayBeLeftOut() @Between(-430, 9000, 'm above sea level') groundHeightM?: number;
}

/** A place put on the map; without a height the terrain's is taken. */
export class NewPlaceBody {
  @Text(1, 60) name!: string;
  @Between(-90, 90, 'degrees') latitudeDeg!: number;
  @Between(-180, 180, 'degrees') longitudeDeg!: number;
  @MayBeLeftOut() @Between(-430, 9000, 'm above sea level') groundHeightM?: number;
  @OneOf(placeKinds) kind!: PlaceKind;
  @MayBeLeftOut() @Text(0, 2000) note?: string;
}

/** A file of waypoints: GPX, KML, GeoJSON or CSV. */
export class ImportPlacesBody {
  @Text(1, 200) fileName!: string;
  @IsString() @MaxLength(placesLimits.characters) text!: string;
  @OneOf(placeKinds) kind!: PlaceKind;
}

/** Two ends of a profile. */
export class ProfileBody {
  @Nested(() => GeoPoint) near!: GeoPoint;
  @Nested(() => GeoPoint) far!: GeoPoint;
}
