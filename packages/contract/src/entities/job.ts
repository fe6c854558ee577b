import 'reflect-metadata';
import { IsBoolean, IsOptional, IsUUID } from 'class-validator';
import { Count, Text } from '../decorators';

/** One customer's installation. */
export class Job {
  @IsUUID() id!: string;
  @Text(1, 80) name!: string;
  @Text(0, 120) customer!: string;
  /** where the law comes from */
  @Text(2, 2) country!: string;
  /** for trying things out: what stand-in radios do counts as done */
  @IsOptional() @IsBoolean() practice!: boolean;
  @Count() version!: number;
}
