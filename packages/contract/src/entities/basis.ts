import 'reflect-metadata';
import { airKinds, type Air } from '@kivram/core/air/air';
import type { Basis, RadioBasis, SheetBasis } from '@kivram/core/evidence/basis';
import { polarisations, type Polarisation } from '@kivram/core/path/polarisation';
import { protocols } from '@kivram/core/radio/kinds';
import { IsBoolean, IsOptional } from 'class-validator';
import { Between, Count, Nested, OneOf, Text } from '../decorators';

/** What a record rested on when it was made, as core compares it with today; see `core/evidence/basis`. */
class AirBasisRecord implements Partial<Air> {
  @IsOptional() @OneOf(airKinds) kind?: Air['kind'];
  @IsOptional() @Between(100, 100000, 'MHz') centreMHz?: number;
  @IsOptional() @Between(100, 100000, 'MHz') returnMHz?: number | null;
  @IsOptional() @Between(0.00625, 2160, 'MHz') widthMHz?: number;
  @IsOptional() @OneOf(protocols) protocol?: Air['protocol'];
  @IsOptional() @IsBoolean() errorCorrection?: boolean;
  /** the fastest that the licence allows; null: any */
  @IsOptional() @Text(1, 30) modulation?: string | null;
}

class SheetBasisRecord implements SheetBasis {
  @Count(1) revision!: number;
  @Between(100, 100000, 'MHz') centreMHz!: number;
  @Between(0.00625, 2160, 'MHz') widthMHz!: number;
  @OneOf(protocols) protocol!: SheetBasis['protocol'];
  @Between(-20, 60, 'dBm') conductedDbm!: number;
  @IsOptional() @Between(100, 100000, 'MHz') txMHz!: number | null;
  @IsOptional() @Between(100, 100000, 'MHz') rxMHz!: number | null;
}

export class RadioBasisRecord implements RadioBasis {
  @Text(1, 60) modelId!: string;
  @Count(1) modelRevision!: number;
  @Between(-90, 90, 'degrees') latitudeDeg!: number;
  @Between(-180, 180, 'degrees') longitudeDeg!: number;
  @Between(-430, 9000, 'm above sea level') groundHeightM!: number;
  @Between(0, 300, 'm above ground') mountHeightM!: number;
  @OneOf(polarisations) polarisation!: Polarisation;
  @IsOptional() @Between(0, 360, 'degrees') azimuthDeg!: number | null;
  @IsOptional() @Between(-90, 90, 'degrees') tiltDeg!: number | null;
  @Between(-20, 60, 'dBm') conductedDbm!: number;
  @Between(0, 30, 'dB') cableLossDb!: number;
  @IsOptional() @Nested(() => SheetBasisRecord) sheet!: SheetBasisRecord | null;
}

class ShaftBasisRecord {
  @Between(0, 1000, 'm') leastM!: number;
  @Between(0, 1000, 'm') mostM!: number;
}

/** A level at each end. */
export class EndLevels {
  @Between(-400, 100, 'dBm') near!: number;
  @Between(-400, 100, 'dBm') far!: number;
}

export class BasisRecord implements Basis {
  @IsOptional() @Nested(() => AirBasisRecord) air?: AirBasisRecord;
  @IsOptional() @Nested(() => ShaftBasisRecord) shaft?: ShaftBasisRecord | null;
  @IsOptional() @Nested(() => RadioBasisRecord) near?: RadioBasisRecord;
  @IsOptional() @Nested(() => RadioBasisRecord) far?: RadioBasisRecord;
  @IsOptional() @Nested(() => EndLevels) expectedDbm?: EndLevels | null;
}
