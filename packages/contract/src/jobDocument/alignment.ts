import 'reflect-metadata';
import { diagnoses } from '@kivram/core/aiming/diagnoses';
import { levelWays, type LevelWay } from '@kivram/core/aiming/levelWay';
import { angleSources, markKinds, type AngleSource, type MarkKind } from '@kivram/core/aiming/reading';
import { ends, type End } from '@kivram/core/budget/plan';
import { evidenceKinds } from '@kivram/core/evidence/evidence';
import { ArrayMaxSize, IsArray, IsBoolean, IsIn, IsNumber, IsOptional, IsUUID } from 'class-validator';
import { Between, ListOf, MayBeLeftOut, Moment, Nested, OneOf, Text } from '../decorators';
import type { AlignmentEndResult } from '../views/alignment';
import { BasisRecord, EndLevels } from '../entities/basis';

/** Taps of one alignment: a finger would need days for more. */
export const mostMarks = 20_000;

const chains = (): PropertyDecorator => (target, key) => {
  IsArray()(target, key as string);
  ArrayMaxSize(8)(target, key as string);
  IsNumber({ allowNaN: false, allowInfinity: false }, { each: true })(target, key as string);
};

/** What a radio told beside a level. */
class ToldRecord {
  @MayBeLeftOut() @Between(-400, 400, 'dBm') noiseDbm?: number;
  @MayBeLeftOut() @Between(-1e9, 1e9, 'Mbit/s') txMbps?: number;
  @MayBeLeftOut() @Between(-1e9, 1e9, 'Mbit/s') rxMbps?: number;
}

/** What one radio heard of its peer at one moment. */
export class ReadingRecord {
  @IsUUID() radioId!: string;
  @IsUUID() peerId!: string;
  @Moment() at!: string;
  @Between(-1e7, 1e7, 's') tS!: number;
  @IsOptional() @Between(-400, 100, 'dBm') rslDbm!: number | null;
  @chains() chainsDbm!: number[];
  @MayBeLeftOut() @IsBoolean() isRepeat?: boolean;
  @MayBeLeftOut() @Between(0, 1e5, 's') ageS?: number;
  @MayBeLeftOut() @Nested(() => ToldRecord) told?: ToldRecord;
  @IsOptional() @Between(-1e6, 1e6, 'degrees') phoneAzimuthDeg!: number | null;
  @IsOptional() @Between(-1e6, 1e6, 'degrees') phoneTiltDeg!: number | null;
}

export class MarkRecord {
  @IsUUID() id!: string;
  @IsUUID() radioId!: string;
  @IsUUID() peerId!: string;
  @Between(-1e7, 1e7, 's') tS!: number;
  @OneOf(markKinds) kind!: MarkKind;
  @IsOptional() @IsIn([-1, 0, 1]) direction!: number | null;
}

class AlignmentPlanRecord {
  @OneOf(angleSources) nearSource!: AngleSource;
  @OneOf(angleSources) farSource!: AngleSource;
  @OneOf(['endByEnd', 'axisByAxis']) order!: 'endByEnd' | 'axisByAxis';
  @IsArray() @ArrayMaxSize(2) @IsIn([...ends], { each: true }) ends!: End[];
  @Nested(() => EndLevels) expectedDbm!: EndLevels;
}

class LevelsFromRecord {
  @Between(-1e7, 1e7, 's') tS!: number;
  @OneOf(ends) end!: End;
  @OneOf(levelWays) way!: LevelWay;
}

class EndResultRecord implements AlignmentEndResult {
  @OneOf(ends) end!: End;
  @IsOptional() @Between(-400, 100, 'dBm') rslDbm!: number | null;
  @Between(-400, 100, 'dBm') expectedDbm!: number;
  @chains() chainsDbm!: number[];
  @OneOf(diagnoses) diagnosis!: AlignmentEndResult['diagnosis'];
  @IsOptional() @Between(-400, 400, 'dB') shortDb!: number | null;
  @IsOptional() @Between(0, 1e6, '') widthRatio!: number | null;
  @Text(0, 1000) reason!: string;
}

class AlignmentResultRecord {
  @Nested(() => EndResultRecord) near!: EndResultRecord;
  @Nested(() => EndResultRecord) far!: EndResultRecord;
}

/** An alignment. Its readings are many and are checked one by one, so here they are a list of anything. */
export class AlignmentRecord {
  @IsUUID() id!: string;
  @IsUUID() linkId!: string;
  @OneOf(['running', 'finished', 'abandoned']) state!: 'running' | 'finished' | 'abandoned';
  @Moment() startedAt!: string;
  @IsOptional() @Moment() finishedAt!: string | null;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @Nested(() => AlignmentPlanRecord) plan!: AlignmentPlanRecord;
  /** left out by what was written before levels came from anything but stand-ins */
  @MayBeLeftOut() @ListOf(() => LevelsFromRecord, 10_000) levelsFrom?: LevelsFromRecord[];
  @OneOf(evidenceKinds) evidenceKind!: (typeof evidenceKinds)[number];
  @IsOptional() @Nested(() => BasisRecord) basis!: BasisRecord | null;
  @IsOptional() @Nested(() => AlignmentResultRecord) result!: AlignmentResultRecord | null;
  @IsArray() readings!: ReadingRecord[];
  @ListOf(() => MarkRecord, mostMarks) marks!: MarkRecord[];
}
