import 'reflect-metadata';
import { obstacleKinds, type ObstacleKind } from '@kivram/core/path/obstacle';
import { IsBoolean, IsOptional, IsUUID } from 'class-validator';
import { Between, Count, ListOf, OneOf, Text, WholeBetween } from '../decorators';
import { GeoPoint } from './place';

export const confidences = ['measured', 'estimated'] as const;

/** What an installer says about something in the way; the terrain does not know it. */
export class ObstacleFields {
  @Text(0, 60) name!: string;
  @OneOf(obstacleKinds) kind!: ObstacleKind;
  /** a point, or the corners of a line or an area; empty for water */
  @ListOf(() => GeoPoint, 50) footprint!: GeoPoint[];
  /** the corners go round an area, like a wood */
  @IsOptional() @IsBoolean() isArea?: boolean;
  @Between(0, 5000, 'm wide') widthM!: number;
  @Between(-20, 500, 'm high') heightM!: number;
  @Between(0, 10, 'm a year') growthMPerYear!: number;
  @WholeBetween(1950, 2200) measuredYear!: number;
  @OneOf(confidences) confidence!: (typeof confidences)[number];
}

export class Obstacle extends ObstacleFields {
  @IsUUID() id!: string;
  @Count() version!: number;
}
