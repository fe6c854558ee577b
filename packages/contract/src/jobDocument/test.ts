import 'reflect-metadata';
import { evidenceKinds } from '@kivram/core/evidence/evidence';
import type { RunConditions } from '@kivram/core/throughput/run';
import { bottlenecks, directions, type ThroughputVerdict } from '@kivram/core/verdict/throughputVerdict';
import { states, type VerdictTerm } from '@kivram/core/verdict/verdict';
import { IsBoolean, IsObject, IsOptional, IsUUID } from 'class-validator';
import { Between, ListOf, Moment, Nested, OneOf, Text, WholeBetween } from '../decorators';
import { BasisRecord } from '../entities/basis';

class TermRecord implements VerdictTerm {
  @Text(1, 60) label!: string;
  @Between(-1e12, 1e12, '') value!: number;
  @Text(0, 20) unit!: string;
}

class VerdictRecord implements ThroughputVerdict {
  @OneOf(states) state!: ThroughputVerdict['state'];
  @Text(0, 400) headline!: string;
  @Text(0, 1000) reason!: string;
  @ListOf(() => TermRecord, 20) terms!: TermRecord[];
  @OneOf(bottlenecks) bottleneck!: ThroughputVerdict['bottleneck'];
}

class ConditionsRecord implements RunConditions {
  @IsOptional() @Between(0, 1e6, 's') seconds!: number | null;
  @Between(0, 1e6, 's') omittedSeconds!: number;
  @WholeBetween(1, 1000) streams!: number;
  @IsOptional() @Between(0, 1e6, 'Mbit/s') targetMbps!: number | null;
  @IsOptional() @Between(0, 65_536, 'bytes') segmentBytes!: number | null;
  @IsOptional() @Between(0, 1, '') busyShare!: number | null;
  @IsBoolean() oneMachine!: boolean;
}

export class ThroughputTestRecord {
  @IsUUID() id!: string;
  @IsUUID() linkId!: string;
  @Moment() at!: string;
  @OneOf(directions) direction!: (typeof directions)[number];
  @OneOf(['iperf3', 'standin', 'hand']) source!: 'iperf3' | 'standin' | 'hand';
  @OneOf(['TCP', 'UDP']) protocol!: 'TCP' | 'UDP';
  @Between(0, 1e6, 'Mbit/s') mbps!: number;
  @IsOptional() @Between(0, 1e6, 's') seconds!: number | null;
  @IsOptional() @WholeBetween(0, 2 ** 31 - 1) retransmits!: number | null;
  @IsOptional() @Between(0, 1, '') lossShare!: number | null;
  @IsOptional() @Between(0, 1e6, 'ms') jitterMs!: number | null;
  @IsBoolean() aborted!: boolean;
  @IsBoolean() bothLoaded!: boolean;
  @IsOptional() @Between(0, 1e6, 'Mbit/s') otherMbps?: number | null;
  @IsOptional() @Nested(() => ConditionsRecord) conditions?: ConditionsRecord | null;
  @IsOptional() @Between(0, 1e6, 'Mbit/s') expectedMbps!: number | null;
  @OneOf(evidenceKinds) evidenceKind!: (typeof evidenceKinds)[number];
  @IsOptional() @Nested(() => BasisRecord) basis!: BasisRecord | null;
  @IsOptional() @Text(1, 200) fileName!: string | null;
  @Text(0, 200) note!: string;
  @IsOptional() @IsUUID() crewMemberId!: string | null;
  @Nested(() => VerdictRecord) verdict!: VerdictRecord;
  /** the file as it was read, whatever it holds */
  @IsOptional() @IsObject() raw!: Record<string, unknown> | null;
  @IsOptional() @Text(64, 64) sha256!: string | null;
  @IsOptional() @Text(1, 300) warning!: string | null;
}
