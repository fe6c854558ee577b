import type { JobRole } from '@kivram/contract/entities/crewMember';
import type { DeviceFields, SubnetFields } from '@kivram/contract/entities/network';
import type { Air } from '@kivram/core/air/air';
import type { Shaft } from '@kivram/core/budget/shaft';
import { positionAt, solveGeodesic } from '@kivram/core/geodesy/geodesic';
import type { PlaceNeed } from '@kivram/core/need/activity';
import { usualItem } from '@kivram/core/need/sum';
import type { Sheet } from '@kivram/core/pairing/sheet';
import type { Obstacle } from '@kivram/core/path/obstacle';
import type { Licence } from '@kivram/core/spectrum/licence';
import type { WorldSetup } from '../radio/standinWorlds';

/** The demo: the harbour co-operative of the made-up Tessary Isles, where the chart shows open ocean. All invented. */
export const job = {
  name: 'Tessary harbour',
  customer: 'Harbour co-operative of the Tessary Isles',
  country: 'XT',
  climateClass: 'mild' as const,
};

export const crew: { name: string; role: JobRole }[] = [
  { name: 'Ona Brisk', role: 'lead' },
  { name: 'Teo Marl', role: 'installer' },
  { name: 'Wim Askel', role: 'reader' },
];

export const feed = { feedDownMbps: 480, feedUpMbps: 120 };

export const subnets: SubnetFields[] = [
  {
    name: 'harbour',
    address: '10.61.4.0',
    prefix: 24,
    gateway: '10.61.4.1',
    dhcp: [{ first: '10.61.4.100', last: '10.61.4.199' }],
  },
];

export const devices: DeviceFields[] = [
  { name: 'router in the ferry office', kind: 'router', address: '10.61.4.1', mac: null },
  { name: 'camera recorder', kind: 'recorder', address: '10.61.4.20', mac: null },
  { name: 'quay camera', kind: 'camera', address: '10.61.4.21', mac: '02:4b:69:10:00:21' },
  { name: 'office printer', kind: 'other', address: '10.61.4.253', mac: null },
];

export const places = {
  ferry: { name: 'Ferry office', latitudeDeg: 33.412, longitudeDeg: -37.8406, groundHeightM: 6 },
  ice: { name: 'Ice works', latitudeDeg: 33.4258, longitudeDeg: -37.829, groundHeightM: 4 },
  loft: { name: 'Net loft', latitudeDeg: 33.4101, longitudeDeg: -37.8259, groundHeightM: 5 },
  hatchery: { name: 'Hatchery', latitudeDeg: 33.4042, longitudeDeg: -37.862, groundHeightM: 11 },
  crane: { name: 'Quay crane', latitudeDeg: 33.41365, longitudeDeg: -37.83905, groundHeightM: 3 },
  gauge: { name: 'Gauge hut', latitudeDeg: 33.4411, longitudeDeg: -37.8687, groundHeightM: 143 },
  slip: { name: 'Slipway store', latitudeDeg: 33.4071, longitudeDeg: -37.8368, groundHeightM: 4 },
  beacon: { name: 'Beacon shed', latitudeDeg: 33.4233, longitudeDeg: -37.8761, groundHeightM: 40 },
  hoist: { name: 'Cliff hoist, foot', latitudeDeg: 33.43215, longitudeDeg: -37.82635, groundHeightM: 9 },
  rope: { name: 'Rope walk', latitudeDeg: 33.412, longitudeDeg: -37.8191, groundHeightM: 10.4 },
  yard: { name: 'Boat yard', latitudeDeg: 33.39951, longitudeDeg: -37.832, groundHeightM: 22 },
  ridge: { name: 'Ridge relay', latitudeDeg: 33.42703, longitudeDeg: -37.86121, groundHeightM: 35.7 },
  cove: { name: 'Seal cove', latitudeDeg: 33.42945, longitudeDeg: -37.86454, groundHeightM: 10.6 },
  pump: { name: 'Pump house', latitudeDeg: 33.41234, longitudeDeg: -37.86427, groundHeightM: 12 },
  car: { name: 'Cliff hoist, car', latitudeDeg: 33.43216, longitudeDeg: -37.82634, groundHeightM: 9 },
};

/** Things to aim by. */
export const landmarks = {
  spire: { name: 'Chapel spire', latitudeDeg: 33.43085, longitudeDeg: -37.82475, groundHeightM: 40.1 },
  stack: { name: 'Kiln chimney', latitudeDeg: 33.40265, longitudeDeg: -37.8692, groundHeightM: 11.5 },
  light: { name: 'Spit light', latitudeDeg: 33.40945, longitudeDeg: -37.82035, groundHeightM: 16.1 },
};

export type PlaceKey = keyof typeof places;

/** What the made-up authority has licensed to the co-operative. */
export const licences: (Omit<Licence, 'validFrom' | 'validUntil' | 'lowPlaceId' | 'highPlaceId'> & {
  lowAt: PlaceKey;
  highAt: PlaceKey;
})[] = [
  {
    number: 'TSC 460-0117',
    holder: 'Harbour co-operative of the Tessary Isles',
    centreMHz: 457.5,
    returnMHz: 467.5,
    widthMHz: 0.025,
    occupiedMHz: 0.02,
    mostEirpDbm: 37,
    modulation: '16-QAM',
    lowAt: 'ferry',
    highAt: 'pump',
    terms: 'Telemetry of the pumps only. Antennas at most 20 m over the ground. Made up, like the isles.',
  },
];

/** Days since the licences began. */
export const licencesBeganDays = 313;

/** Days that the licences still hold when the demo is loaded: under 60, so that what Kivram says then is seen. */
export const licenceDays = 52;

/** What is done at some of the places. */
export const needs: Partial<Record<PlaceKey, Omit<PlaceNeed, 'placeId'> & { adapterName: string }>> = {
  ice: {
    items: [
      { ...usualItem('camera'), count: 4 },
      { ...usualItem('browsing'), count: 6 },
      { ...usualItem('videoCall'), count: 1 },
    ],
    simultaneity: 0.8,
    growthPercent: 20,
    headroomPercent: 25,
    adapterName: '',
    adapterMbps: null,
  },
  crane: {
    items: [
      { ...usualItem('camera'), count: 2, fromMbps: 8 },
      { ...usualItem('telemetry'), count: 3 },
    ],
    simultaneity: 1,
    growthPercent: 0,
    headroomPercent: 25,
    adapterName: '',
    adapterMbps: null,
  },
  loft: {
    items: [
      { ...usualItem('browsing'), count: 3 },
      { ...usualItem('stream4k'), count: 1 },
    ],
    simultaneity: 0.7,
    growthPercent: 0,
    headroomPercent: 25,
    // An adapter over the mains behind the radio: the classic bottleneck.
    adapterName: 'powerline adapter',
    adapterMbps: 18,
  },
  cove: {
    items: [{ ...usualItem('camera'), count: 1, fromMbps: 3 }],
    simultaneity: 1,
    growthPercent: 0,
    headroomPercent: 25,
    adapterName: '',
    adapterMbps: null,
  },
};

/** Where the feed comes in. */
export const feedAt: PlaceKey = 'ferry';

/** One end of a demo link. */
export interface DemoEnd {
  place: PlaceKey;
  model: string;
  heightM: number;
  conductedDbm: number;
  /** a name by which later links join this radio */
  radio?: string;
  azimuthDeg?: number;
  tiltDeg?: number;
  mac?: string;
}

/** How far a demo link has come, and what is wrong with it. */
export interface DemoLink {
  name: string;
  near: DemoEnd;
  far: DemoEnd;
  air: Pick<Air, 'centreMHz' | 'widthMHz'> &
    Partial<Pick<Air, 'kind' | 'protocol' | 'errorCorrection'>> & { returnMHz?: number };
  shaft?: Shaft;
  need: { nearToFarMbps: number; farToNearMbps: number };
  world: Partial<WorldSetup>;
  /** settings that went wrong, on top of what Kivram proposes */
  slips?: { near?: Partial<Sheet>; far?: Partial<Sheet> };
  reached: 'plan' | 'sheets' | 'paired' | 'mounted' | 'aimed' | 'proven';
  /** the installer stopped at the first maximum, a side lobe */
  stopsOnSideLobe?: boolean;
}

/** Both ends alike, from the ferry office unless another place is named. */
function alike(
  model: string,
  conductedDbm: number,
  far: PlaceKey,
  heightM: { near: number; far: number },
  near: PlaceKey = 'ferry',
): { near: DemoEnd; far: DemoEnd } {
  return {
    near: { place: near, model, conductedDbm, heightM: heightM.near },
    far: { place: far, model, conductedDbm, heightM: heightM.far },
  };
}

const sector: DemoEnd = {
  place: 'ferry',
  model: 'brinmoor-fan-17',
  heightM: 15,
  conductedDbm: 14,
  radio: 'sector',
  azimuthDeg: 95,
  tiltDeg: 0,
};

const ridge: DemoEnd = {
  place: 'ridge',
  model: 'ostrel-halo-9',
  heightM: 6,
  conductedDbm: 18,
  radio: 'ridge',
  azimuthDeg: 0,
  tiltDeg: 0,
  mac: '02:5e:a1:00:00:32',
};

export const links: DemoLink[] = [
  {
    name: 'Ice works',
    ...alike('brinmoor-span-25', 11, 'ice', { near: 14, far: 9 }),
    air: { centreMHz: 5775, widthMHz: 80 },
    need: { nearToFarMbps: 120, farToNearMbps: 60 },
    world: {},
    reached: 'proven',
  },
  {
    name: 'Net loft',
    ...alike('brinmoor-pane-16', 14, 'loft', { near: 13, far: 7 }),
    air: { centreMHz: 5550, widthMHz: 40 },
    need: { nearToFarMbps: 40, farToNearMbps: 20 },
    world: {},
    slips: { far: { role: 'ap', networkName: 'Tessary-Harbour-Net-Loft', scanMHz: [] } },
    reached: 'sheets',
  },
  {
    name: 'Hatchery',
    ...alike('ostrel-harrow-23', 12, 'hatchery', { near: 14, far: 8 }),
    air: { centreMHz: 5590, widthMHz: 40 },
    need: { nearToFarMbps: 60, farToNearMbps: 90 },
    // Trees have grown into this path since it was planned: thin ones, or whoever aims looks about for minutes for a better lobe.
    world: { obstructionDb: 4, seed: 4009 },
    reached: 'aimed',
  },
  {
    name: 'Gauge hut',
    ...alike('brinmoor-span-25', 10, 'gauge', { near: 15, far: 4 }),
    air: { centreMHz: 5500, widthMHz: 20 },
    need: { nearToFarMbps: 5, farToNearMbps: 20 },
    world: {},
    reached: 'aimed',
    stopsOnSideLobe: true,
  },
  {
    name: 'Quay crane',
    ...alike('vantry-lumen-38', 2, 'crane', { near: 12, far: 22 }),
    air: { centreMHz: 60480, widthMHz: 2160 },
    need: { nearToFarMbps: 200, farToNearMbps: 400 },
    world: {},
    reached: 'plan',
  },
  {
    name: 'Slipway store',
    ...alike('brinmoor-pane-16', 8, 'slip', { near: 13, far: 5 }),
    air: { centreMHz: 5520, widthMHz: 20 },
    need: { nearToFarMbps: 50, farToNearMbps: 20 },
    // A patch cable with a bad pair: the port came up at 100 Mbit/s.
    world: { ethernetMbps: 100 },
    reached: 'proven',
  },
  {
    // The ridge takes a part of the zone: seen, but not in radio's sense.
    name: 'Beacon shed',
    ...alike('brinmoor-span-25', 5, 'beacon', { near: 15, far: 6 }),
    air: { centreMHz: 5700, widthMHz: 20 },
    need: { nearToFarMbps: 10, farToNearMbps: 10 },
    world: {},
    reached: 'plan',
  },
  {
    name: 'Cliff hoist',
    shaft: { leastM: 6, mostM: 34 },
    ...alike('brinmoor-pane-16', 0, 'car', { near: 1, far: 2 }, 'hoist'),
    air: { centreMHz: 5765, widthMHz: 20 },
    need: { nearToFarMbps: 10, farToNearMbps: 10 },
    world: {},
    reached: 'plan',
  },
  {
    // A hub: one sector at the ferry office serves what lies to the east and south.
    name: 'Rope walk',
    near: { ...sector },
    far: { place: 'rope', model: 'brinmoor-pane-16', heightM: 6, conductedDbm: 14 },
    air: { kind: 'hub', centreMHz: 5825, widthMHz: 20 },
    need: { nearToFarMbps: 30, farToNearMbps: 15 },
    world: {},
    reached: 'proven',
  },
  {
    // Its second station lies well off the boresight: the sector reaches it, with less.
    name: 'Boat yard',
    near: { ...sector },
    far: { place: 'yard', model: 'brinmoor-pane-16', heightM: 6, conductedDbm: 14 },
    air: { centreMHz: 5825, widthMHz: 20 },
    need: { nearToFarMbps: 20, farToNearMbps: 10 },
    world: {},
    reached: 'aimed',
  },
  {
    // A chain over the ridge: one radio on top hears both sides. Its channel is one of radars.
    name: 'Ridge relay',
    near: {
      place: 'ferry',
      model: 'ostrel-mite-13',
      heightM: 15,
      conductedDbm: 16,
      radio: 'foot of the chain',
      mac: '02:5e:a1:00:00:31',
    },
    far: { ...ridge },
    air: { kind: 'chain', centreMHz: 5660, widthMHz: 20 },
    need: { nearToFarMbps: 8, farToNearMbps: 8 },
    world: {},
    reached: 'proven',
  },
  {
    name: 'Seal cove',
    near: { ...ridge },
    far: { place: 'cove', model: 'ostrel-mite-13', heightM: 5, conductedDbm: 14, mac: '02:5e:a1:00:00:33' },
    air: { centreMHz: 5660, widthMHz: 20 },
    need: { nearToFarMbps: 8, farToNearMbps: 8 },
    world: {},
    reached: 'paired',
  },
  {
    // Telemetry of the pump: a licensed pair of frequencies, little and steady.
    name: 'Pump house',
    ...alike('vantry-thread-460', 25, 'pump', { near: 15, far: 6 }),
    air: { kind: 'duplex', centreMHz: 457.5, returnMHz: 467.5, widthMHz: 0.025, errorCorrection: false },
    need: { nearToFarMbps: 0.03, farToNearMbps: 0.05 },
    world: {},
    reached: 'proven',
  },
];

/** A distance along the way from the ferry office to a place. */
function onTheWayTo(place: PlaceKey, distanceM: number) {
  return positionAt(places.ferry, solveGeodesic(places.ferry, places[place]).azimuthDeg, distanceM);
}

export const obstacles: Omit<Obstacle, 'id'>[] = [
  {
    // Estimated years ago from the office window; they have grown faster than that.
    name: 'the tamarisks',
    kind: 'trees',
    footprint: [onTheWayTo('hatchery', 1890), onTheWayTo('hatchery', 1925)],
    widthM: 8,
    heightM: 3.4,
    growthMPerYear: 0.45,
    measuredYear: 2023,
    confidence: 'estimated',
  },
  {
    name: 'a lorry at the slipway gate',
    kind: 'vehicle',
    footprint: [onTheWayTo('slip', 604)],
    widthM: 12,
    heightM: 4.2,
    growthMPerYear: 0,
    measuredYear: 2026,
    confidence: 'measured',
  },
  {
    name: 'the net-drying house',
    kind: 'building',
    footprint: [onTheWayTo('loft', 1290)],
    widthM: 14,
    heightM: 5.5,
    growthMPerYear: 0,
    measuredYear: 2026,
    confidence: 'measured',
  },
  {
    name: 'spring tide',
    kind: 'water',
    footprint: [],
    widthM: 0,
    heightM: 1.9,
    growthMPerYear: 0,
    measuredYear: 2026,
    confidence: 'measured',
  },
];
