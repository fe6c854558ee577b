import 'reflect-metadata';
import { ends, type End } from '@kivram/core/budget/plan';
import { averageCounts, type InstrumentSetup } from '@kivram/core/instruments/setup';
import { ArrayMaxSize, ArrayMinSize, IsArray, IsBoolean, IsIn } from 'class-validator';
import { Between, Nested, NumbersBetween, OneOf } from '../decorators';

/** A signal generator at one end and an analyser at the other. */
export class InstrumentFields implements InstrumentSetup {
  @OneOf(ends) generatorAt!: End;
  @Between(1, 300_000, 'MHz') frequencyMHz!: number;
  @Between(-120, 60, 'dBm') generatorDbm!: number;
  @Between(0, 60, 'dB') generatorCableDb!: number;
  @Between(-20, 60, 'dBi') generatorGainDbi!: number;
  @Between(-20, 60, 'dBi') analyserGainDbi!: number;
  @Between(0, 60, 'dB') analyserCableDb!: number;
  @Between(0.001, 10_000, 'MHz') spanMHz!: number;
  @Between(0.001, 1000, 'MHz') bandMHz!: number;
  @IsIn([...averageCounts], { message: '$property is $value: 2 or 4 readings are averaged' })
  averages!: InstrumentSetup['averages'];
  @Between(-174, -60, 'dBm in one hertz') analyserNoiseDbmPerHz!: number;
  @Between(-60, 60, 'dBm') analyserMostDbm!: number;
}

/** A path that was measured with instruments. */
export class PathCheckBody {
  @Nested(() => InstrumentFields) setup!: InstrumentFields;
  /** which of the twelve steps were done */
  @IsArray() @ArrayMinSize(12) @ArrayMaxSize(12) @IsBoolean({ each: true }) ticked!: boolean[];
  @NumbersBetween(-200, 60, 'dBm', [2, 4]) readingsDbm!: number[];
}
