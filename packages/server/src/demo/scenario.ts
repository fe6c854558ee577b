import type { Sheet } from '@kivram/core';
import type { WorldSetup } from '../radio/standinWorlds';

/** The demo: the harbour co-operative of the made-up Tessary Isles, where the chart shows open ocean. All invented. */
export const job = { name: 'Tessary harbour', customer: 'Harbour co-operative of the Tessary Isles', country: 'XT' };

export const crew = ['Ona Brisk', 'Teo Marl'];

export const network = {
  subnetAddress: '10.61.4.0',
  prefix: 24,
  gateway: '10.61.4.1',
  dhcpFirst: '10.61.4.100',
  dhcpLast: '10.61.4.199',
  feedMbps: 480,
};

export const devices = [
  { name: 'router in the ferry office', address: '10.61.4.1' },
  { name: 'camera recorder', address: '10.61.4.20' },
  { name: 'quay camera', address: '10.61.4.21' },
  { name: 'office printer', address: '10.61.4.253' },
];

export const places = {
  ferry: { name: 'Ferry office', latitudeDeg: 33.412, longitudeDeg: -37.8406, groundHeightM: 6 },
  ice: { name: 'Ice works', latitudeDeg: 33.4258, longitudeDeg: -37.829, groundHeightM: 4 },
  loft: { name: 'Net loft', latitudeDeg: 33.4101, longitudeDeg: -37.8259, groundHeightM: 5 },
  hatchery: { name: 'Hatchery', latitudeDeg: 33.4042, longitudeDeg: -37.862, groundHeightM: 11 },
  crane: { name: 'Quay crane', latitudeDeg: 33.41365, longitudeDeg: -37.83905, groundHeightM: 3 },
  gauge: { name: 'Gauge hut', latitudeDeg: 33.4411, longitudeDeg: -37.8687, groundHeightM: 143 },
  slip: { name: 'Slipway store', latitudeDeg: 33.4071, longitudeDeg: -37.8368, groundHeightM: 4 },
};

export type PlaceKey = keyof typeof places;

/** How far a demo link has come, and what is wrong with it. */
export interface DemoLink {
  name: string;
  far: PlaceKey;
  model: string;
  heightM: { near: number; far: number };
  centreMHz: number;
  widthMHz: number;
  conductedDbm: number;
  need: { nearToFarMbps: number; farToNearMbps: number };
  world: Partial<WorldSetup>;
  /** settings that went wrong, on top of what Kivram proposes */
  slips?: { near?: Partial<Sheet>; far?: Partial<Sheet> };
  reached: 'plan' | 'sheets' | 'paired' | 'mounted' | 'aimed' | 'proven';
  /** the installer stopped at the first maximum, a side lobe */
  stopsOnSideLobe?: boolean;
}

export const links: DemoLink[] = [
  {
    name: 'Ice works',
    far: 'ice',
    model: 'brinmoor-span-25',
    heightM: { near: 14, far: 9 },
    centreMHz: 5775,
    widthMHz: 80,
    conductedDbm: 11,
    need: { nearToFarMbps: 120, farToNearMbps: 60 },
    world: {},
    reached: 'proven',
  },
  {
    name: 'Net loft',
    far: 'loft',
    model: 'brinmoor-pane-16',
    heightM: { near: 13, far: 7 },
    centreMHz: 5550,
    widthMHz: 40,
    conductedDbm: 14,
    need: { nearToFarMbps: 40, farToNearMbps: 20 },
    world: {},
    slips: { far: { role: 'ap', networkName: 'Tessary-Harbour-Net-Loft', scanMHz: [] } },
    reached: 'sheets',
  },
  {
    name: 'Hatchery',
    far: 'hatchery',
    model: 'ostrel-harrow-23',
    heightM: { near: 14, far: 8 },
    centreMHz: 5755,
    widthMHz: 40,
    conductedDbm: 12,
    need: { nearToFarMbps: 60, farToNearMbps: 90 },
    // Trees have grown into this path since it was planned.
    world: { obstructionDb: 8 },
    reached: 'aimed',
  },
  {
    name: 'Gauge hut',
    far: 'gauge',
    model: 'brinmoor-span-25',
    heightM: { near: 15, far: 4 },
    centreMHz: 5785,
    widthMHz: 20,
    conductedDbm: 10,
    need: { nearToFarMbps: 5, farToNearMbps: 20 },
    world: {},
    reached: 'aimed',
    stopsOnSideLobe: true,
  },
  {
    name: 'Quay crane',
    far: 'crane',
    model: 'vantry-lumen-38',
    heightM: { near: 12, far: 22 },
    centreMHz: 60480,
    widthMHz: 2160,
    conductedDbm: 2,
    need: { nearToFarMbps: 200, farToNearMbps: 400 },
    world: {},
    reached: 'plan',
  },
  {
    name: 'Slipway store',
    far: 'slip',
    model: 'brinmoor-pane-16',
    heightM: { near: 13, far: 5 },
    centreMHz: 5745,
    widthMHz: 20,
    conductedDbm: 8,
    need: { nearToFarMbps: 50, farToNearMbps: 20 },
    // A patch cable with a bad pair: the port came up at 100 Mbit/s.
    world: { ethernetMbps: 100 },
    reached: 'proven',
  },
];
