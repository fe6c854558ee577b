import 'reflect-metadata';
import { IsObject, IsOptional, IsUUID } from 'class-validator';
import { Moment, OneOf, Text, WholeBetween } from '../decorators';

export const eventKinds = [
  'link',
  'plan',
  'settings',
  'bench',
  'mount',
  'alignment',
  'test',
  'job',
  'people',
  'visit',
] as const;
export type EventKind = (typeof eventKinds)[number];

/** One line of the timeline: who did what when. */
export class Event {
  @WholeBetween(0, Number.MAX_SAFE_INTEGER) id!: number;
  @IsOptional() @IsUUID() linkId!: string | null;
  @Moment() at!: string;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @OneOf(eventKinds) kind!: EventKind;
  @Text(1, 400) summary!: string;
  @IsObject() detail!: Record<string, unknown>;
}
