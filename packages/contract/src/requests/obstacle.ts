import 'reflect-metadata';
import { IsInt } from 'class-validator';
import { ObstacleFields } from '../entities';

/** An obstacle as it is to be, with the version that was changed; a new one is its fields alone. */
export class ObstacleBody extends ObstacleFields {
  @IsInt() version!: number;
}
