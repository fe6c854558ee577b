import 'reflect-metadata';
import { IsDateString, IsInt, IsObject, IsOptional, IsUUID } from 'class-validator';
import { OneOf, Text } from '../decorators';

export const eventKinds = ['link', 'plan', 'settings', 'bench', 'mount', 'alignment', 'test', 'job'] as const;
export type EventKind = (typeof eventKinds)[number];

/** One line of the timeline: who did what when. */
export class Event {
  @IsInt() id!: number;
  @IsOptional() @IsUUID() linkId!: string | null;
  @IsDateString() at!: string;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @OneOf(eventKinds) kind!: EventKind;
  @Text(1, 400) summary!: string;
  @IsObject() detail!: Record<string, unknown>;
}
