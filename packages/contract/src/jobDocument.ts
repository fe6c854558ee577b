import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  Equals,
  IsArray,
  IsBoolean,
  IsDateString,
  IsInt,
  IsObject,
  IsOptional,
  IsUUID,
  Min,
  ValidateNested,
} from 'class-validator';
import { Between, OneOf, Text } from './decorators';
import { evidenceKinds } from '@kivram/core';
import { Air, CrewMember, Event, Job, KnownDevice, Link, Network, Obstacle, Place, Radio } from './entities';
import { SheetBody } from './sheet';

export const jobDocumentFormat = 'kivram-job';
export const jobDocumentVersion = 2;

/** A sheet whose passphrase may have been left out. */
export class ExportedSheet extends SheetBody {
  @IsOptional() declare passphrase: string | null;
}

export class SheetRecord {
  @IsUUID() radioId!: string;
  @IsInt() @Min(1) revision!: number;
  @IsDateString() savedAt!: string;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  /** without the passphrase unless secrets were asked for */
  @ValidateNested() @Type(() => ExportedSheet) sheet!: ExportedSheet;
}

export class BenchRunRecord {
  @IsUUID() id!: string;
  @IsUUID() linkId!: string;
  @IsDateString() at!: string;
  @IsBoolean() linked!: boolean;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @OneOf(evidenceKinds) evidenceKind!: (typeof evidenceKinds)[number];
  @IsOptional() @IsObject() basis!: Record<string, unknown> | null;
}

/** A spec sheet in one of its revisions. */
export class ModelRevision {
  @IsInt() @Min(1) revision!: number;
  @IsObject() spec!: Record<string, unknown>;
}

export class AlignmentRecord {
  @IsUUID() id!: string;
  @IsUUID() linkId!: string;
  @OneOf(['running', 'finished', 'abandoned']) state!: 'running' | 'finished' | 'abandoned';
  @IsDateString() startedAt!: string;
  @IsOptional() @IsDateString() finishedAt!: string | null;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @IsObject() plan!: Record<string, unknown>;
  @OneOf(evidenceKinds) evidenceKind!: (typeof evidenceKinds)[number];
  @IsOptional() @IsObject() basis!: Record<string, unknown> | null;
  @IsOptional() @IsObject() result!: Record<string, unknown> | null;
  @IsArray() readings!: unknown[];
  @IsArray() marks!: unknown[];
}

export class ThroughputTestRecord {
  @IsUUID() id!: string;
  @IsUUID() linkId!: string;
  @IsDateString() at!: string;
  @OneOf(['nearToFar', 'farToNear']) direction!: string;
  @OneOf(['iperf3', 'standin', 'hand']) source!: string;
  @OneOf(['TCP', 'UDP']) protocol!: string;
  @Between(0, 1e6, 'Mbit/s') mbps!: number;
  @IsOptional() @Between(0, 1e6, 's') seconds!: number | null;
  @IsOptional() @IsInt() retransmits!: number | null;
  @IsOptional() @Between(0, 1, '') lossShare!: number | null;
  @IsOptional() @Between(0, 1e6, 'ms') jitterMs!: number | null;
  @IsBoolean() aborted!: boolean;
  @IsBoolean() bothLoaded!: boolean;
  @IsOptional() @Between(0, 1e6, 'Mbit/s') expectedMbps!: number | null;
  @OneOf(evidenceKinds) evidenceKind!: (typeof evidenceKinds)[number];
  @IsOptional() @IsObject() basis!: Record<string, unknown> | null;
  @IsOptional() @Text(1, 200) fileName!: string | null;
  @Text(0, 200) note!: string;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @IsObject() verdict!: Record<string, unknown>;
  @IsOptional() @IsObject() raw!: Record<string, unknown> | null;
  @IsOptional() @Text(64, 64) sha256!: string | null;
  @IsOptional() @Text(1, 300) warning!: string | null;
}

/** A whole job as one file. What is not in it does not exist. */
export class JobDocument {
  @Equals(jobDocumentFormat, { message: 'this is no Kivram job: "format" should be "kivram-job"' }) format!: string;
  @Equals(jobDocumentVersion, { message: 'formatVersion is $value, and this Kivram reads versions 1 and 2' })
  formatVersion!: number;
  @IsDateString() exportedAt!: string;
  @OneOf(['left out', 'included']) secrets!: 'left out' | 'included';
  @ValidateNested() @Type(() => Job) job!: Job;
  @IsArray() @ValidateNested({ each: true }) @Type(() => CrewMember) crew!: CrewMember[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => Place) places!: Place[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => Air) airs!: Air[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => Radio) radios!: Radio[];
  @IsOptional() @IsArray() @ValidateNested({ each: true }) @Type(() => Obstacle) obstacles?: Obstacle[];
  @IsOptional() @ValidateNested() @Type(() => Network) network!: Network | null;
  @IsArray() @ValidateNested({ each: true }) @Type(() => KnownDevice) devices!: KnownDevice[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => Link) links!: Link[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => SheetRecord) sheets!: SheetRecord[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => BenchRunRecord) benchRuns!: BenchRunRecord[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => AlignmentRecord) alignments!: AlignmentRecord[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => ThroughputTestRecord) tests!: ThroughputTestRecord[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => Event) events!: Event[];
  /** spec sheets of the models in use, so that the document stands alone */
  @IsArray() @ValidateNested({ each: true }) @Type(() => ModelRevision) models!: ModelRevision[];
}
