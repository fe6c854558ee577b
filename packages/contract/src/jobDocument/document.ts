import 'reflect-metadata';
import { evidenceKinds } from '@kivram/core';
import { Equals, IsBoolean, IsOptional, IsUUID } from 'class-validator';
import { Count, ListOf, Moment, Nested, OneOf } from '../decorators';
import {
  Air,
  BasisRecord,
  CrewMember,
  Event,
  Job,
  KnownDevice,
  Link,
  ModelRevision,
  Network,
  Obstacle,
  Place,
  Radio,
} from '../entities';
import { SheetBody } from '../sheet';
import { AlignmentRecord } from './alignment';

import { ThroughputTestRecord } from './test';

export const jobDocumentFormat = 'kivram-job';
export const jobDocumentVersion = 3;

/** What a file of a job may hold at most. */
export const jobFileLimits = {
  megabytes: 500,
  /** readings are counted apart: they are many and small */
  readings: 3_000_000,
  /** values other than in readings, and the characters of their texts */
  values: 1_500_000,
  characters: 60_000_000,
  links: 10_000,
} as const;

/** A sheet whose passphrase may have been left out. */
export class ExportedSheet extends SheetBody {
  @IsOptional() declare passphrase: string | null;
}

export class SheetRecord {
  @IsUUID() radioId!: string;
  @Count(1) revision!: number;
  @Moment() savedAt!: string;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  /** without the passphrase unless secrets were asked for */
  @Nested(() => ExportedSheet) sheet!: ExportedSheet;
}

export class BenchRunRecord {
  @IsUUID() id!: string;
  @IsUUID() linkId!: string;
  @Moment() at!: string;
  @IsBoolean() linked!: boolean;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @OneOf(evidenceKinds) evidenceKind!: (typeof evidenceKinds)[number];
  @IsOptional() @Nested(() => BasisRecord) basis!: BasisRecord | null;
}

const { links } = jobFileLimits;

/** A whole job as one file. What is not in it does not exist. */
export class JobDocument {
  @Equals(jobDocumentFormat, { message: 'this is no Kivram job: "format" should be "kivram-job"' }) format!: string;
  @Equals(jobDocumentVersion, { message: 'formatVersion is $value, and this Kivram reads versions 1 to 3' })
  formatVersion!: number;
  @Moment() exportedAt!: string;
  @OneOf(['left out', 'included']) secrets!: 'left out' | 'included';
  @Nested(() => Job) job!: Job;
  @ListOf(() => CrewMember, 500) crew!: CrewMember[];
  @ListOf(() => Place, 4 * links) places!: Place[];
  @ListOf(() => Air, 2 * links) airs!: Air[];
  @ListOf(() => Radio, 2 * links) radios!: Radio[];
  @IsOptional() @ListOf(() => Obstacle, 2 * links) obstacles?: Obstacle[];
  @IsOptional() @Nested(() => Network) network!: Network | null;
  @ListOf(() => KnownDevice, 5000) devices!: KnownDevice[];
  @ListOf(() => Link, links) links!: Link[];
  @ListOf(() => SheetRecord, 10 * links) sheets!: SheetRecord[];
  @ListOf(() => BenchRunRecord, 10 * links) benchRuns!: BenchRunRecord[];
  @ListOf(() => AlignmentRecord, 5 * links) alignments!: AlignmentRecord[];
  @ListOf(() => ThroughputTestRecord, 5 * links) tests!: ThroughputTestRecord[];
  @ListOf(() => Event, 50 * links) events!: Event[];
  /** spec sheets of the models in use, so that the document stands alone */
  @ListOf(() => ModelRevision, 1000) models!: ModelRevision[];
}
