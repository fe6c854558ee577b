import type { Band, Model, Protocol } from '@kivram/core';

/** Spec sheets for tests: invented, with round figures. */
export function testModel(changes: Partial<Model> = {}): Model {
  const band: Band = changes.band ?? '5GHz';
  const tuning = {
    '2.4GHz': { lowestMHz: 2400, highestMHz: 2484, widthsMHz: [20, 40] },
    '5GHz': { lowestMHz: 5150, highestMHz: 5850, widthsMHz: [20, 40, 80] },
    '60GHz': { lowestMHz: 57000, highestMHz: 66000, widthsMHz: [2160] },
    licensed: { lowestMHz: 400, highestMHz: 470, widthsMHz: [0.025, 0.3] },
  }[band];
  return {
    id: `test-${band}`,
    maker: 'Test',
    name: `Test ${band}`,
    band,
    ...tuning,
    phy: 'VHT',
    streams: 2,
    protocols: ['802.11', 'slots'] satisfies Protocol[],
    leastConductedDbm: 0,
    mostConductedDbm: 26,
    antennaGainDbi: 23,
    beamWidth: { azimuthDeg: 10, elevationDeg: 10 },
    noiseFigureDb: 5,
    sensitivities: [20, 40, 80].flatMap((widthMHz, w) =>
      [-92, -89, -86, -83, -79, -75, -73, -71, -67, -64].map((dbm, mcs) => ({ mcs, widthMHz, rslDbm: dbm + 3 * w })),
    ),
    overloadDbm: -20,
    ethernetMbps: 1000,
    poe: 'passive24',
    hasPtpOnly: true,
    ...changes,
  };
}
