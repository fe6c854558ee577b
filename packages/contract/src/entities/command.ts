import 'reflect-metadata';
import { Matches } from 'class-validator';
import { ListOf, Text } from '../decorators';

/** A program of this computer that tells a level, under the name by which jobs may ask for it. */
export class NamedCommand {
  @Text(1, 60) name!: string;
  @Matches(/^\//, { message: '$property is "$value": write where it lies from the root on, like /usr/local/bin/probe' })
  @Text(2, 200)
  program!: string;
  @Text(0, 1000) arguments!: string;
}

/** What stands in the file of this computer's commands. */
export class CommandList {
  @ListOf(() => NamedCommand, 100) commands!: NamedCommand[];
}
