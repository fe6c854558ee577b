import 'reflect-metadata';
import { evidenceKinds } from '@kivram/core/evidence/evidence';
import { instrumentVerdicts, type InstrumentVerdict } from '@kivram/core/instruments/school';
import { Equals, IsBoolean, IsOptional, IsUUID, Matches } from 'class-validator';
import { Between, Count, ListOf, MayBeLeftOut, Moment, Nested, OneOf, Text } from '../decorators';
import { Air } from '../entities/air';
import { Alternative } from '../entities/alternative';
import { BasisRecord } from '../entities/basis';
import { CrewMember } from '../entities/crewMember';
import { Event } from '../entities/event';
import { Job } from '../entities/job';
import { Licence, LocalRule } from '../entities/law';
import { Link } from '../entities/link';
import { Cable, KeptNeed } from '../entities/need';
import { KnownDevice, Network } from '../entities/network';
import { Obstacle } from '../entities/obstacle';
import { Place } from '../entities/place';
import { Radio } from '../entities/radio';
import { ModelRevision } from '../entities/spec';
import { Visit } from '../entities/visit';
import { LevelProfileBody, LevelSourceBody } from '../requests/level';
import { PathCheckBody } from '../requests/pathCheck';
import { SheetBody } from '../sheet';
import { AlignmentRecord } from './alignment';
import { PhotoRecord } from './photo';
import { ThroughputTestRecord } from './test';
import { jobFileLimits } from './limits';

export const jobDocumentFormat = 'kivram-job';
export const jobDocumentVersion = 5;

/** A sheet whose passphrase may have been left out. */
export class ExportedSheet extends SheetBody {
  @IsOptional()
  @Matches(/^[\x20-\x7e]/, { message: 'passphrase must be written out, or left out' })
  declare passphrase: string | null;
}

export class SheetRecord {
  @IsUUID() radioId!: string;
  @Count(1) revision!: number;
  @Moment() savedAt!: string;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  /** without the passphrase unless secrets were asked for */
  @Nested(() => ExportedSheet) sheet!: ExportedSheet;
}

/** With what one logs in to a radio; without the password unless secrets were asked for. */
export class LoginRecord {
  @IsUUID() radioId!: string;
  @Text(1, 60) userName!: string;
  @IsOptional()
  @Text(1, 100)
  @Matches(/^[^•]/, { message: 'password must be written out, or left out' })
  password!: string | null;
}

/** Where the level comes from at which one radio hears another; without its secrets unless they were asked for. */
export class LevelSourceRecord {
  @IsUUID() radioId!: string;
  @IsUUID() peerId!: string;
  /** its version counts nothing here; its secrets are in it where they were asked for */
  @Nested(() => LevelSourceBody) source!: LevelSourceBody;
}

export class LevelProfileRecord extends LevelProfileBody {
  @IsUUID() id!: string;
}

class PathJudgementRecord {
  @OneOf(instrumentVerdicts) verdict!: InstrumentVerdict;
  @IsOptional() @Between(-400, 100, 'dBm') measuredDbm!: number | null;
  @IsOptional() @Between(-400, 400, 'dB') shortDb!: number | null;
  @Text(0, 1000) words!: string;
}

/** A path measured with instruments. */
export class PathCheckRecord extends PathCheckBody {
  @IsUUID() id!: string;
  @IsUUID() linkId!: string;
  @Moment() at!: string;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @Between(-400, 100, 'dBm') predictedDbm!: number;
  @Nested(() => PathJudgementRecord) judgement!: PathJudgementRecord;
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

/** A plan of a link that was kept beside the one in place. */
export class AlternativeRecord extends Alternative {
  @IsUUID() linkId!: string;
}

/** A terrain file by its name and the digest of what is in it. */
export class TerrainRecord {
  @Text(1, 200) name!: string;
  @Matches(/^[0-9a-f]{64}$/, { message: '$property must be a SHA-256 digest' }) sha256!: string;
}

const { links } = jobFileLimits;

/** A whole job as one file. What is not in it does not exist. */
export class JobDocument {
  @Equals(jobDocumentFormat, { message: 'this is no Kivram job: "format" should be "kivram-job"' }) format!: string;
  @Equals(jobDocumentVersion, { message: 'formatVersion is $value, and this Kivram reads versions 1 to 5' })
  formatVersion!: number;
  @Moment() exportedAt!: string;
  @OneOf(['left out', 'included']) secrets!: 'left out' | 'included';
  @Nested(() => Job) job!: Job;
  @ListOf(() => CrewMember, 500) crew!: CrewMember[];
  @ListOf(() => Place, 4 * links) places!: Place[];
  @ListOf(() => Air, 2 * links) airs!: Air[];
  @ListOf(() => Radio, 2 * links) radios!: Radio[];
  @IsOptional() @ListOf(() => Obstacle, 2 * links) obstacles?: Obstacle[];
  /** left out by what was written before there were any */
  @IsOptional() @ListOf(() => LocalRule, 1000) localRules?: LocalRule[];
  @IsOptional() @ListOf(() => Licence, 1000) licences?: Licence[];
  @IsOptional() @ListOf(() => KeptNeed, 4 * links) needs?: KeptNeed[];
  @IsOptional() @ListOf(() => Cable, 4 * links) cables?: Cable[];
  @IsOptional() @ListOf(() => AlternativeRecord, 20 * links) alternatives?: AlternativeRecord[];
  @IsOptional() @Nested(() => Network) network!: Network | null;
  @ListOf(() => KnownDevice, 5000) devices!: KnownDevice[];
  @ListOf(() => Link, links) links!: Link[];
  @ListOf(() => SheetRecord, 10 * links) sheets!: SheetRecord[];
  @ListOf(() => LoginRecord, 2 * links) logins!: LoginRecord[];
  /** left out by what was written before levels came from anything but stand-ins */
  @MayBeLeftOut() @ListOf(() => LevelSourceRecord, 4 * links) levelSources?: LevelSourceRecord[];
  @MayBeLeftOut() @ListOf(() => LevelProfileRecord, 1000) levelProfiles?: LevelProfileRecord[];
  @MayBeLeftOut() @ListOf(() => PathCheckRecord, 5 * links) pathChecks?: PathCheckRecord[];
  @ListOf(() => BenchRunRecord, 10 * links) benchRuns!: BenchRunRecord[];
  @ListOf(() => AlignmentRecord, 5 * links) alignments!: AlignmentRecord[];
  @ListOf(() => ThroughputTestRecord, 5 * links) tests!: ThroughputTestRecord[];
  @ListOf(() => Event, 50 * links) events!: Event[];
  @ListOf(() => Visit, 5000) visits!: Visit[];
  /** checked apart, one by one, for their pictures are large */
  @ListOf(() => PhotoRecord, jobFileLimits.photos) photos!: PhotoRecord[];
  /** terrain that lies under its links where this was written: it does not travel with the job, and is named */
  @MayBeLeftOut() @ListOf(() => TerrainRecord, 200) terrain?: TerrainRecord[];
  /** spec sheets of the models in use, so that the document stands alone */
  @ListOf(() => ModelRevision, 1000) models!: ModelRevision[];
}
