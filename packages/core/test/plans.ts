import type { EndPlan, LinkPlan } from '../src/budget';
import type { Model } from '../src/gear';

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

export function endOf(latitudeDeg: number, changes: Partial<EndPlan> = {}): EndPlan {
  return {
    position: { latitudeDeg, longitudeDeg: 0 },
    groundHeightM: 0,
    mountHeightM: 10,
    model: modelOf(),
    conductedDbm: 16,
    cableLossDb: 0,
    ...changes,
  };
}

/** A kilometre along the meridian at the equator: 110.574 km a degree (WGS84). */
export const oneKmDeg = 1 / 110.574;

export function planOf(changes: Partial<LinkPlan> = {}): LinkPlan {
  return {
    near: endOf(0),
    far: endOf(oneKmDeg),
    centreMHz: 5800,
    widthMHz: 20,
    protocol: '802.11',
    country: 'XT',
    ...changes,
  };
}
