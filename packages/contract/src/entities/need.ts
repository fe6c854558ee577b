import 'reflect-metadata';
import { activityKinds, type ActivityKind, type NeedItem } from '@kivram/core/need/activity';
import { IsOptional, IsUUID } from 'class-validator';
import { Between, Count, ListOf, OneOf, Text, WholeBetween } from '../decorators';

/** Some of a kind at a place; see `core/need`. */
export class NeedItemFields implements NeedItem {
  @OneOf(activityKinds) kind!: ActivityKind;
  @WholeBetween(0, 10000) count!: number;
  @Between(0, 100000, 'Mbit/s') toMbps!: number;
  @Between(0, 100000, 'Mbit/s') fromMbps!: number;
  @IsOptional() @IsUUID() towardPlaceId!: string | null;
}

/** What people and things at a place do over its links, and how it is added up. */
export class PlaceNeedFields {
  @ListOf(() => NeedItemFields, 100) items!: NeedItemFields[];
  @Between(0, 1, '') simultaneity!: number;
  @Between(0, 1000, '%') growthPercent!: number;
  @Between(0, 1000, '%') headroomPercent!: number;
  /** the slowest thing between the radio and the devices there */
  @Text(0, 60) adapterName!: string;
  @IsOptional() @Between(0.001, 100000, 'Mbit/s') adapterMbps!: number | null;
}

/** The need of a place as it is kept. */
export class KeptNeed extends PlaceNeedFields {
  @IsUUID() placeId!: string;
  @Count() version!: number;
}

/** A cable between two places: traffic takes it as it takes a link. */
export class CableFields {
  @Text(1, 60) name!: string;
  @IsUUID() aPlaceId!: string;
  @IsUUID() bPlaceId!: string;
  @Between(0.001, 100000, 'Mbit/s') mbps!: number;
}

export class Cable extends CableFields {
  @IsUUID() id!: string;
  @Count() version!: number;
}
