import 'reflect-metadata';
import { ends, type End } from '@kivram/core/budget/plan';
import { rateUnits, type RateUnit } from '@kivram/core/throughput/unit';
import { directions, type Direction } from '@kivram/core/verdict/throughputVerdict';
import { IsDateString, IsOptional, IsString, MaxLength } from 'class-validator';
import { Between, OneOf, Text } from '../decorators';
import { testLimits } from '../views/test';

/** A file as iperf3 -J wrote it, with the end at which the client ran. */
export class ImportTestBody {
  @Text(1, 200) fileName!: string;
  @IsString() @MaxLength(testLimits.characters) text!: string;
  @OneOf(ends) clientAt!: End;
}

export class StandinTestBody {
  @OneOf(directions) direction!: Direction;
}

/** A speed test read off a screen; the unit must be said. */
export class HandTestBody {
  @OneOf(directions) direction!: Direction;
  @Between(0.001, 100000, '') value!: number;
  @OneOf(rateUnits) unit!: RateUnit;
  @Text(0, 200) note!: string;
  @IsOptional() @IsDateString() at?: string;
}
