import 'reflect-metadata';
import { IsUUID } from 'class-validator';
import { Text } from '../decorators';

/** Somebody who works on a job. */
export class CrewMember {
  @IsUUID() id!: string;
  @Text(1, 60) name!: string;
}
