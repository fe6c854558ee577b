import 'reflect-metadata';
import { Count } from '../decorators';
import { ObstacleFields } from '../entities/obstacle';

/** An obstacle as it is to be, with the version that was changed; a new one is its fields alone. */
export class ObstacleBody extends ObstacleFields {
  @Count() version!: number;
}
