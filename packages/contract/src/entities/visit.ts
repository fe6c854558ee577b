import 'reflect-metadata';
import { IsOptional, IsUUID } from 'class-validator';
import { Between, Count, Moment, Text, WholeBetween } from '../decorators';

/** One time that somebody was on site: what for, what they saw and did. */
export class Visit {
  @IsUUID() id!: string;
  @Moment() startedAt!: string;
  /** null while they are there */
  @IsOptional() @Moment() endedAt!: string | null;
  @Text(1, 120) purpose!: string;
  /** who came along, in words */
  @Text(0, 200) company!: string;
  @Text(0, 4000) note!: string;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @Count() version!: number;
}

/** What a photo may be of; each is of one thing. */
export const photoSubjects = ['radio', 'place', 'visit'] as const;
export type PhotoSubject = (typeof photoSubjects)[number];

/** A photo without its picture. */
export class Photo {
  @IsUUID() id!: string;
  @IsOptional() @IsUUID() radioId!: string | null;
  @IsOptional() @IsUUID() placeId!: string | null;
  @IsOptional() @IsUUID() visitId!: string | null;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @Moment() addedAt!: string;
  /** as the camera says, whose clock knows no zone; null where it does not */
  @IsOptional() @Moment() takenAt!: string | null;
  @Text(0, 300) caption!: string;
  @WholeBetween(1, 20_000, 'px') widthPx!: number;
  @WholeBetween(1, 20_000, 'px') heightPx!: number;
  /** where it was taken, only where whoever added it wanted that kept */
  @IsOptional() @Between(-90, 90, 'degrees') latitudeDeg!: number | null;
  @IsOptional() @Between(-180, 180, 'degrees') longitudeDeg!: number | null;
  @Count() version!: number;
}
