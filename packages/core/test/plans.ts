import type { Air } from '../src/air/air';
import type { LinkPlan, RadioPlan } from '../src/budget/plan';
import type { Model } from '../src/gear/model';
import { lawOf } from '../src/spectrum/ruleSet';
import type { Licence } from '../src/spectrum/licence';
import { testLaw } from './law';

/** The day on which plans of tests are looked at. */
export const testDay = '2026-06-15';

/** A made-up licence for 457.5 and 467.5 MHz. */
export function licenceOf(changes: Partial<Licence> = {}): Licence {
  return {
    number: 'T 1',
    holder: '',
    centreMHz: 457.5,
    returnMHz: 467.5,
    widthMHz: 0.3,
    occupiedMHz: null,
    mostEirpDbm: 44,
    modulation: null,
    validFrom: '2026-01-01',
    validUntil: '2026-12-31',
    lowPlaceId: null,
    highPlaceId: null,
    terms: '',
    ...changes,
  };
}

/** A made-up radio of 20 dBi at 5 GHz; sensitivities of IEEE 802.11-2020 clause 21 at 20 MHz, from memory. */
export function modelOf(changes: Partial<Model> = {}): Model {
  return {
    id: 'm',
    maker: 'Test',
    name: 'Test 20',
    band: '5GHz',
    lowestMHz: 5150,
    highestMHz: 5850,
    phy: 'VHT',
    streams: 2,
    protocols: ['802.11'],
    widthsMHz: [20],
    leastConductedDbm: 0,
    mostConductedDbm: 25,
    antennaGainDbi: 20,
    beamWidth: { azimuthDeg: 12, elevationDeg: 12 },
    noiseFigureDb: 5,
    sensitivities: [-82, -79, -77, -74, -70, -66, -65, -64, -59].map((rslDbm, mcs) => ({ mcs, widthMHz: 20, rslDbm })),
    overloadDbm: -30,
    ethernetMbps: 1000,
    poe: 'passive24',
    hasPtpOnly: false,
    ...changes,
  };
}

export function endOf(latitudeDeg: number, changes: Partial<RadioPlan> = {}): RadioPlan {
  return {
    position: { latitudeDeg, longitudeDeg: 0 },
    groundHeightM: 0,
    mountHeightM: 10,
    model: modelOf(),
    role: 'access',
    conductedDbm: 16,
    cableLossDb: 0,
    cable: null,
    aimOffDeg: 0,
    interferenceDb: 0,
    polarisation: 'dual',
    azimuthDeg: null,
    tiltDeg: null,
    ...changes,
  };
}

/** A kilometre along the meridian at the equator: 110.574 km a degree (WGS84). */
export const oneKmDeg = 1 / 110.574;

export function airOf(changes: Partial<Air> = {}): Air {
  return {
    kind: 'pair',
    centreMHz: 5800,
    returnMHz: null,
    widthMHz: 20,
    protocol: '802.11',
    errorCorrection: false,
    ...changes,
  };
}

/** A plan over a kilometre; changes of the air go into it, the others beside it. */
export function planOf({ air, ...changes }: Partial<Omit<LinkPlan, 'air'>> & { air?: Partial<Air> } = {}): LinkPlan {
  return {
    air: airOf(air),
    near: endOf(0),
    far: endOf(oneKmDeg, { role: 'station' }),
    law: lawOf(testLaw, 'XT') ?? null,
    day: testDay,
    ...changes,
  };
}
