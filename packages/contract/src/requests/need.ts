import 'reflect-metadata';
import { IsUUID } from 'class-validator';
import { Between, Count, ListOf } from '../decorators';
import { PlaceNeedFields } from '../entities/need';

/** The need of a place as it is to be; version 0 where there was none. */
export class PlaceNeedBody extends PlaceNeedFields {
  @Count() version!: number;
}

/** What is to cross one link, with the version of the link that was looked at. */
export class LinkNeedFields {
  @IsUUID() linkId!: string;
  @Count() version!: number;
  @Between(0, 100000, 'Mbit/s') needNearToFarMbps!: number;
  @Between(0, 100000, 'Mbit/s') needFarToNearMbps!: number;
}

/** Sums of needs that are to be planned by. */
export class PlannedNeedsBody {
  @ListOf(() => LinkNeedFields, 10000) links!: LinkNeedFields[];
}
