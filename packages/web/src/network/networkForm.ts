import type { DeviceKind } from '@kivram/contract/entities/network';
import type { NetworkBody } from '@kivram/contract/requests/job';
import type { SiteNetwork } from '@kivram/contract/views/job';
import { checkNetwork, type NetworkFinding } from '@kivram/core/addressing/network';
import { AddressError, isAddress } from '@kivram/core/addressing/subnet';
import { parseRanges, parseSubnet, rangesText } from '@kivram/core/addressing/typed';
import { numberIn, type TypedNumber } from '../parts/NumberField';

export interface SubnetForm {
  name: string;
  /** address and mask as typed */
  block: string;
  gateway: string;
  /** ranges as typed */
  dhcp: string;
}

export interface DeviceForm {
  name: string;
  kind: DeviceKind;
  address: string;
  mac: string;
}

/** A site's network as it is typed. */
export interface NetworkForm {
  feedDownMbps: TypedNumber;
  feedUpMbps: TypedNumber;
  feedPlaceId: string;
  subnets: SubnetForm[];
  devices: DeviceForm[];
}

export const emptySubnet: SubnetForm = { name: '', block: '', gateway: '', dhcp: '' };
export const emptyDevice: DeviceForm = { name: '', kind: 'camera', address: '', mac: '' };

export function formOf({ network, devices }: SiteNetwork): NetworkForm {
  return {
    feedDownMbps: network?.feedDownMbps ?? null,
    feedUpMbps: network?.feedUpMbps ?? null,
    feedPlaceId: network?.feedPlaceId ?? '',
    subnets: (network?.subnets ?? []).map(({ name, address, prefix, gateway, dhcp }) => ({
      name,
      block: `${address}/${prefix}`,
      gateway: gateway ?? '',
      dhcp: rangesText(dhcp),
    })),
    devices: devices.map(({ name, kind, address, mac }) => ({ name, kind, address, mac: mac ?? '' })),
  };
}

/** What is wrong with a row, by its field; what is no field's own stands under "row". */
export type RowErrors<Row> = Partial<Record<keyof Row | 'row', string>>;

export interface ReadNetwork {
  body: Omit<NetworkBody, 'version'>;
  subnets: RowErrors<SubnetForm>[];
  devices: RowErrors<DeviceForm>[];
  /** what can be saved and asks for trouble */
  warnings: NetworkFinding[];
  /** how many rows cannot be saved as they are */
  faults: number;
}

const macPattern = /^([0-9a-f]{2}[:-]?){5}[0-9a-f]{2}$/i;

/** Reads the form as it stands, and looks at what it says. Rows that are empty are none. */
export function readNetwork(form: NetworkForm): ReadNetwork {
  const subnetErrors: RowErrors<SubnetForm>[] = form.subnets.map(() => ({}));
  const deviceErrors: RowErrors<DeviceForm>[] = form.devices.map(() => ({}));
  const subnets = form.subnets.flatMap((row, index) => {
    if (isBlank(row)) return [];
    const errors = subnetErrors[index] ?? {};
    const read = <T>(field: keyof SubnetForm, parse: () => T): T | undefined => {
      try {
        return parse();
      } catch (error) {
        if (!(error instanceof AddressError)) throw error;
        errors[field] = error.message;
        return undefined;
      }
    };
    const block = read('block', () => parseSubnet(row.block));
    const dhcp = read('dhcp', () => parseRanges(row.dhcp)) ?? [];
    const gateway = row.gateway.trim() || null;
    if (gateway && !isAddress(gateway)) errors.gateway = notAnAddress(gateway);
    const name = row.name.trim() || `subnet ${index + 1}`;
    return block ? [{ index, name, ...block, gateway, dhcp }] : [];
  });
  const devices = form.devices.flatMap((row, index) => {
    if (!row.name.trim() && !row.address.trim() && !row.mac.trim()) return [];
    const errors = deviceErrors[index] ?? {};
    const address = row.address.trim();
    const mac = row.mac.trim();
    if (!row.name.trim()) errors.name = 'What is it called?';
    if (!isAddress(address)) errors.address = notAnAddress(address);
    if (mac && !macPattern.test(mac)) errors.mac = `"${mac}" is no hardware address: write it like 02:1a:2b:3c:4d:5e.`;
    return [{ index, name: row.name.trim(), kind: row.kind, address, mac: mac ? colons(mac) : null }];
  });
  const findings = checkNetwork({ subnets, devices });
  for (const { severity, at, reason } of findings) {
    if (severity !== 'forbids') continue;
    const row = (at.list === 'subnets' ? subnets : devices)[at.index];
    const errors = row && (at.list === 'subnets' ? subnetErrors : deviceErrors)[row.index];
    if (errors) errors.row ??= reason;
  }
  return {
    body: {
      feedDownMbps: rateOf(form.feedDownMbps),
      feedUpMbps: rateOf(form.feedUpMbps),
      feedPlaceId: form.feedPlaceId || null,
      subnets: subnets.map(({ index, ...subnet }) => subnet),
      devices: devices.map(({ index, ...device }) => device),
    },
    subnets: subnetErrors,
    devices: deviceErrors,
    warnings: findings.filter((f) => f.severity === 'warns'),
    faults: [...subnetErrors, ...deviceErrors].filter((errors) => Object.keys(errors).length).length,
  };
}

function isBlank(row: SubnetForm): boolean {
  return Object.values(row).every((text: string) => !text.trim());
}

function notAnAddress(text: string): string {
  return text ? `"${text}" is no address: write four numbers from 0 to 255, like 10.20.0.7.` : 'It needs an address.';
}

/** A hardware address as it is stored, whichever way it was written. */
function colons(mac: string): string {
  return (mac.toLowerCase().match(/[0-9a-f]{2}/g) ?? []).join(':');
}

/** An empty field says that nothing is known; what is no number stays one that the check refuses. */
function rateOf(typed: TypedNumber): number | null {
  return typed === null ? null : numberIn(typed);
}
