import 'reflect-metadata';
import {
  bands,
  phys,
  poeKinds,
  protocols,
  type BeamWidth,
  type Model,
  type Protocol,
  type Sensitivity,
} from '@kivram/core';
import { ArrayMaxSize, IsArray, IsBoolean, IsIn, IsNumber, IsOptional } from 'class-validator';
import { Between, Count, ListOf, Nested, OneOf, Text, WholeBetween } from '../decorators';

class SensitivityRecord implements Sensitivity {
  @WholeBetween(0, 40) mcs!: number;
  @Between(0.00625, 2160, 'MHz') widthMHz!: number;
  @Between(-150, 0, 'dBm') rslDbm!: number;
  @IsOptional() @IsBoolean() errorCorrection?: boolean;
}

class BeamWidthRecord implements BeamWidth {
  @Between(0.1, 360, 'degrees') azimuthDeg!: number;
  @Between(0.1, 360, 'degrees') elevationDeg!: number;
}

/** A spec sheet, as core reads it; see `core/gear/model`. */
export class SpecRecord implements Model {
  @Text(1, 60) id!: string;
  @Text(1, 60) maker!: string;
  @Text(1, 60) name!: string;
  @OneOf(bands) band!: Model['band'];
  @Between(100, 100000, 'MHz') lowestMHz!: number;
  @Between(100, 100000, 'MHz') highestMHz!: number;
  @OneOf(phys) phy!: Model['phy'];
  @WholeBetween(1, 8) streams!: number;
  @IsArray() @ArrayMaxSize(4) @IsIn([...protocols], { each: true }) protocols!: Protocol[];
  @IsArray() @ArrayMaxSize(20) @IsNumber({}, { each: true }) widthsMHz!: number[];
  @Between(-20, 60, 'dBm') leastConductedDbm!: number;
  @Between(-20, 60, 'dBm') mostConductedDbm!: number;
  @Between(-10, 60, 'dBi') antennaGainDbi!: number;
  @Nested(() => BeamWidthRecord) beamWidth!: BeamWidthRecord;
  @Between(0, 30, 'dB') noiseFigureDb!: number;
  @ListOf(() => SensitivityRecord, 400) sensitivities!: SensitivityRecord[];
  @Between(-100, 40, 'dBm') overloadDbm!: number;
  @Between(0.001, 1e6, 'Mbit/s') ethernetMbps!: number;
  @OneOf(poeKinds) poe!: Model['poe'];
  @IsBoolean() hasPtpOnly!: boolean;
}

/** A spec sheet in one of its revisions. */
export class ModelRevision {
  @Count(1) revision!: number;
  @Nested(() => SpecRecord) spec!: SpecRecord;
}
