import 'reflect-metadata';
import { IsInt } from 'class-validator';
import { ObstacleFields } from '../entities';

export class NewObstacleBody extends ObstacleFields {}

export class ObstacleBody extends ObstacleFields {
  @IsInt() version!: number;
}
