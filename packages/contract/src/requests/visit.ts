import 'reflect-metadata';
import { IsOptional } from 'class-validator';
import { Count, MayBeLeftOut, Moment, Text } from '../decorators';

/** A visit begins. Its identifier is that of the change that makes it. */
export class NewVisitBody {
  @Moment() startedAt!: string;
  @Text(1, 120) purpose!: string;
  @Text(0, 200) company!: string;
  @Text(0, 4000) note!: string;
}

/** What is left out stays. */
export class VisitBody {
  @Count() version!: number;
  @MayBeLeftOut() @Moment() startedAt?: string;
  /** nothing (null): they are still there */
  @IsOptional() @Moment() endedAt?: string | null;
  @MayBeLeftOut() @Text(1, 120) purpose?: string;
  @MayBeLeftOut() @Text(0, 200) company?: string;
  @MayBeLeftOut() @Text(0, 4000) note?: string;
}

export class PhotoBody {
  @Count() version!: number;
  @Text(0, 300) caption!: string;
}
