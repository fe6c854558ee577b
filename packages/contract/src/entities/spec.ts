import 'reflect-metadata';
import type { BeamWidth } from '@kivram/core/antenna/mainLobe';
import { mostPatternPoints, type AntennaPattern, type PatternPoint } from '@kivram/core/antenna/pattern';
import {
  bands,
  pairingKinds,
  type Model,
  type PairingKind,
  type Price,
  type Sensitivity,
} from '@kivram/core/gear/model';
import { poeKinds } from '@kivram/core/gear/poe';
import { protocols, type Protocol } from '@kivram/core/radio/kinds';
import { phys } from '@kivram/core/radio/kinds/kind';
import { IsBoolean, IsIP, IsOptional, Matches } from 'class-validator';
import { Between, Count, ListOf, Nested, NumbersBetween, OneOf, SomeOf, Text, WholeBetween } from '../decorators';

class SensitivityRecord implements Sensitivity {
  @WholeBetween(0, 40) mcs!: number;
  @Between(0.00625, 2160, 'MHz') widthMHz!: number;
  @Between(-150, 0, 'dBm') rslDbm!: number;
  @IsOptional() @IsBoolean() errorCorrection?: boolean;
  @IsOptional() @Between(-20, 60, 'dBm') mostConductedDbm?: number;
}

class BeamWidthRecord implements BeamWidth {
  @Between(0.1, 360, 'degrees') azimuthDeg!: number;
  @Between(0.1, 360, 'degrees') elevationDeg!: number;
}

class PatternPointRecord implements PatternPoint {
  @Between(-180, 180, 'degrees') angleDeg!: number;
  @Between(0, 120, 'dB') lossDb!: number;
}

class PatternRecord implements AntennaPattern {
  @ListOf(() => PatternPointRecord, mostPatternPoints) azimuth!: PatternPointRecord[];
  @ListOf(() => PatternPointRecord, mostPatternPoints) elevation!: PatternPointRecord[];
}

class PriceRecord implements Price {
  @Between(0, 1e9, '') amount!: number;
  @Matches(/^[A-Z]{3}$/, { message: '$property must be three capital letters, like EUR' }) currency!: string;
}

/** What a spec sheet says; see `core/gear/model`. */
export class SpecFields implements Omit<Model, 'id'> {
  @Text(1, 60) maker!: string;
  @Text(1, 60) name!: string;
  @OneOf(bands) band!: Model['band'];
  @Between(100, 100000, 'MHz') lowestMHz!: number;
  @Between(100, 100000, 'MHz') highestMHz!: number;
  @OneOf(phys) phy!: Model['phy'];
  @WholeBetween(1, 8) streams!: number;
  @SomeOf(protocols) protocols!: Protocol[];
  @NumbersBetween(0.00625, 2160, 'MHz', [1, 20]) widthsMHz!: number[];
  @Between(-20, 60, 'dBm') leastConductedDbm!: number;
  @Between(-20, 60, 'dBm') mostConductedDbm!: number;
  @Between(-10, 60, 'dBi') antennaGainDbi!: number;
  @Nested(() => BeamWidthRecord) beamWidth!: BeamWidthRecord;
  @IsOptional() @Between(0, 60, 'dB') crossPolarDb?: number;
  @Between(0, 30, 'dB') noiseFigureDb!: number;
  @ListOf(() => SensitivityRecord, 400) sensitivities!: SensitivityRecord[];
  @Between(-100, 40, 'dBm') overloadDbm!: number;
  @Between(0.001, 1e6, 'Mbit/s') ethernetMbps!: number;
  @OneOf(poeKinds) poe!: Model['poe'];
  @IsOptional() @Between(1, 200, '%') occupiedPercent?: number;
  @IsBoolean() hasPtpOnly!: boolean;
  @IsOptional() @Nested(() => PatternRecord) pattern?: PatternRecord;
  @IsOptional() @NumbersBetween(0.001, 1e6, 'Mbit/s', [0, 8]) otherPortsMbps?: number[];
  @IsOptional() @Between(0, 200, 'W') poeWatts?: number;
  @IsOptional() @WholeBetween(1, 1000) mostStations?: number;
  @IsOptional() @OneOf(pairingKinds) pairingKind?: PairingKind;
  @IsOptional() @IsIP(4) factoryAddress?: string;
  @IsOptional() @Between(0, 3600, 's') bootS?: number;
  @IsOptional() @Between(0, 3600, 's') saveS?: number;
  @IsOptional() @Between(0, 1000, 'kg') weightKg?: number;
  @IsOptional() @Nested(() => PriceRecord) price?: PriceRecord;
}

/** A spec sheet with its identifier. */
export class SpecRecord extends SpecFields implements Model {
  @Text(1, 60) id!: string;
}

/** A spec sheet in one of its revisions. */
export class ModelRevision {
  @Count(1) revision!: number;
  @Nested(() => SpecRecord) spec!: SpecRecord;
}
