import 'reflect-metadata';
import { climateClasses, type ClimateClass } from '@kivram/core/propagation/climate';
import { unitSystems, type UnitSystem } from '@kivram/core/units';
import { IsBoolean, IsOptional, IsUUID } from 'class-validator';
import { Between, Count, ListOf, MayBeLeftOut, OneOf, Text } from '../decorators';
import { Country } from '../entities/job';
import { DeviceFields, FeedFields, SubnetFields } from '../entities/network';

/** A new job. Its identifier is that of the change that makes it, so that asking twice makes one. */
export class NewJobBody {
  @Text(1, 80) name!: string;
  @Text(0, 120) customer!: string;
  @Country() country!: string;
  @OneOf(unitSystems) units!: UnitSystem;
  /** who makes it, and leads it */
  @Text(1, 60) workerName!: string;
  /** a job whose places, network, obstacles and plans it begins with; not its measurements, settings or serial numbers */
  @MayBeLeftOut() @IsUUID() copyOf?: string;
  @MayBeLeftOut() @IsBoolean() practice?: boolean;
}

/** Changes of a job itself; what is left out stays. */
export class JobBody {
  @Count() version!: number;
  @MayBeLeftOut() @Text(1, 80) name?: string;
  @MayBeLeftOut() @Text(0, 120) customer?: string;
  @MayBeLeftOut() @Country() country?: string;
  @MayBeLeftOut() @OneOf(unitSystems) units?: UnitSystem;
  /** null: guessed from the latitude */
  @IsOptional() @OneOf(climateClasses) climateClass?: ClimateClass | null;
  /** null: that of the class */
  @IsOptional() @Between(0, 400, 'mm/h') rainMmPerH?: number | null;
  @MayBeLeftOut() @IsBoolean() archived?: boolean;
}

/** The whole network of a site, as it is to be. */
export class NetworkBody extends FeedFields {
  /** the version that was changed; 0 where there was none */
  @Count() version!: number;
  @ListOf(() => SubnetFields, 50) subnets!: SubnetFields[];
  @ListOf(() => DeviceFields, 5000) devices!: DeviceFields[];
}
