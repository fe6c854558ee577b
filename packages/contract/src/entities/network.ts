import 'reflect-metadata';
import { IsIP, IsOptional, IsUUID } from 'class-validator';
import { Between, Count, Text, WholeBetween } from '../decorators';

/** The site's network, as far as it is known. */
export class Network {
  @IsUUID() id!: string;
  @IsIP(4) subnetAddress!: string;
  @WholeBetween(8, 32) prefix!: number;
  @IsOptional() @IsIP(4) gateway!: string | null;
  @IsOptional() @IsIP(4) dhcpFirst!: string | null;
  @IsOptional() @IsIP(4) dhcpLast!: string | null;
  /** what the feed delivers, and where it comes in */
  @IsOptional() @Between(0, 100000, 'Mbit/s') feedMbps!: number | null;
  @IsOptional() @IsUUID() feedPlaceId!: string | null;
  @Count() version!: number;
}

export class KnownDevice {
  @IsUUID() id!: string;
  @Text(1, 60) name!: string;
  @IsIP(4) address!: string;
}
