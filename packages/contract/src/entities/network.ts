import 'reflect-metadata';
import { IsIP, IsMACAddress, IsOptional, IsUUID } from 'class-validator';
import { Between, Count, ListOf, OneOf, Text, WholeBetween } from '../decorators';

/** Addresses that the router hands out by itself, from the first to the last. */
export class DhcpRange {
  @IsIP(4) first!: string;
  @IsIP(4) last!: string;
}

/** A part of the site's network with its router. */
export class SubnetFields {
  @Text(1, 60) name!: string;
  @IsIP(4) address!: string;
  @WholeBetween(8, 32) prefix!: number;
  @IsOptional() @IsIP(4) gateway!: string | null;
  @ListOf(() => DhcpRange, 20) dhcp!: DhcpRange[];
}

/** What the feed delivers and takes, and where it comes in. */
export class FeedFields {
  @IsOptional() @Between(0.001, 100000, 'Mbit/s') feedDownMbps!: number | null;
  @IsOptional() @Between(0.001, 100000, 'Mbit/s') feedUpMbps!: number | null;
  @IsOptional() @IsUUID() feedPlaceId!: string | null;
}

/** The site's network, as far as it is known. Radios get their addresses in its first subnet. */
export class Network extends FeedFields {
  @IsUUID() id!: string;
  @ListOf(() => SubnetFields, 50) subnets!: SubnetFields[];
  @Count() version!: number;
}

export const deviceKinds = [
  'router',
  'switch',
  'accessPoint',
  'recorder',
  'camera',
  'server',
  'computer',
  'telemetry',
  'other',
] as const;
export type DeviceKind = (typeof deviceKinds)[number];

/** Something on the site's network that has an address already. */
export class DeviceFields {
  @Text(1, 60) name!: string;
  @OneOf(deviceKinds) kind!: DeviceKind;
  @IsIP(4) address!: string;
  @IsOptional() @IsMACAddress() mac!: string | null;
}

export class KnownDevice extends DeviceFields {
  @IsUUID() id!: string;
}
