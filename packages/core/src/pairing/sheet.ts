import type { Band } from '../gear/model';
import type { Protocol } from '../radio/kinds';

/** A `relay` has no fixed role: it talks to the neighbours it lists, and to nobody else. */
export const roles = ['ap', 'station', 'relay'] as const;
export type Role = (typeof roles)[number];

/** How roles are called. */
export const roleWords: Record<Role, string> = { ap: 'access point', station: 'station', relay: 'relay' };

export const securities = ['open', 'wpa2-psk', 'wpa3-sae'] as const;
export type Security = (typeof securities)[number];
export const securityWords: Record<Security, string> = {
  open: 'open, for anyone in range',
  'wpa2-psk': 'WPA2, passphrase',
  'wpa3-sae': 'WPA3, passphrase',
};

/** The settings of one radio, as they stand in its configuration. */
export interface Sheet {
  role: Role;
  networkName: string;
  security: Security;
  passphrase: string | null;
  band: Band;
  /** the access point's channel; a station follows what it hears. Licensed pairs use txMHz and rxMHz instead */
  centreMHz: number;
  /** centres a station listens on; empty: every channel its country allows */
  scanMHz: number[];
  widthMHz: number;
  /** a station that takes over the access point's width as far as its model can */
  followsWidth: boolean;
  protocol: Protocol;
  /** admits one station only */
  ptpOnly: boolean;
  /** carries Ethernet frames through unchanged; off, the radio routes */
  bridge: boolean;
  conductedDbm: number;
  country: string;
  address: string;
  prefix: number;
  gateway: string | null;
  deviceName: string;
  firmware: string;
  /** hardware addresses that a relay talks to */
  neighbours: string[];
  /** licensed pairs: spends a part of the rate on range */
  errorCorrection: boolean;
  /** full-duplex pairs: what this end sends and hears on */
  txMHz: number | null;
  rxMHz: number | null;
}
