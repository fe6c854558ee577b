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
import { CrewMember, Event, Job, KnownDevice, Link, Network, Obstacle, Place, Radio } from './entities';
import { SheetBody } from './sheet';

export const jobDocumentFormat = 'kivram-job';
export const jobDocumentVersion = 1;

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
  @IsInt() @Min(0) nearRevision!: number;
  @IsInt() @Min(0) farRevision!: number;
  @IsBoolean() linked!: boolean;
}

export class AlignmentRecord {
  @IsUUID() id!: string;
  @IsUUID() linkId!: string;
  @OneOf(['running', 'finished', 'abandoned']) state!: 'running' | 'finished' | 'abandoned';
  @IsDateString() startedAt!: string;
  @IsOptional() @IsDateString() finishedAt!: string | null;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @IsObject() plan!: Record<string, unknown>;
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
  @Equals(jobDocumentVersion, { message: 'formatVersion is $value, and this Kivram reads version 1' })
  formatVersion!: number;
  @IsDateString() exportedAt!: string;
  @OneOf(['left out', 'included']) secrets!: 'left out' | 'included';
  @ValidateNested() @Type(() => Job) job!: Job;
  @IsArray() @ValidateNested({ each: true }) @Type(() => CrewMember) crew!: CrewMember[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => Place) places!: Place[];
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
  @IsArray() models!: unknown[];
}
