import { describe, expect, it } from 'vitest';
import { checkPair, proposeSheets, usableCentresMHz, type SheetRequest } from '.';
import type { Model } from '../gear';

const model = (changes: Partial<Model> = {}): Model => ({
  id: 'm',
  maker: 'Test',
  name: 'Test',
  band: '5GHz',
  lowestMHz: 5150,
  highestMHz: 5850,
  phy: 'VHT',
  streams: 2,
  protocols: ['802.11'],
  widthsMHz: [20, 40, 80],
  leastConductedDbm: 0,
  mostConductedDbm: 24,
  antennaGainDbi: 16,
  beamWidth: { azimuthDeg: 30, elevationDeg: 30 },
  noiseFigureDb: 6,
  sensitivities: [],
  overloadDbm: -25,
  ethernetMbps: 1000,
  poe: 'passive24',
  hasPtpOnly: true,
  ...changes,
});

const request = (changes: Partial<SheetRequest> = {}): SheetRequest => ({
  jobName: 'Tessary harbour',
  linkName: 'Net loft',
  nearPlace: 'Ferry office',
  farPlace: 'Net løft & Söhne',
  nearModel: model(),
  farModel: model(),
  centreMHz: 5775,
  widthMHz: 80,
  protocol: '802.11',
  country: 'XT',
  nearConductedDbm: 9,
  farConductedDbm: 11,
  network: {
    subnet: { address: '10.61.4.0', prefix: 24 },
    gateway: '10.61.4.1',
    dhcpFirst: '10.61.4.100',
    dhcpLast: '10.61.4.199',
    taken: ['10.61.4.254'],
  },
  firmware: '1.0',
  takenNetworkNames: [],
  ...changes,
});

let seed = 1;
const bytes = (count: number): Uint8Array =>
  Uint8Array.from({ length: count }, () => (seed = (seed * 48271) % 2147483647) % 256);

describe('proposed sheets', () => {
  it('will pair, with no warning, for every pair of models that can', () => {
    for (const ptp of [true, false]) {
      const nearModel = model({ hasPtpOnly: ptp });
      const { near, far } = proposeSheets(request({ nearModel }), bytes);
      const findings = checkPair({
        near: { sheet: near, model: nearModel, otherStations: 0 },
        far: { sheet: far, model: model(), otherStations: 0 },
      });
      expect(findings).toEqual([]);
      expect(near.ptpOnly).toBe(ptp);
    }
  });

  it('also as a full-duplex pair, its frequencies exchanged', () => {
    const narrow = model({ band: 'licensed', lowestMHz: 400, highestMHz: 470, widthsMHz: [0.025] });
    const { near, far } = proposeSheets(
      request({ nearModel: narrow, farModel: narrow, centreMHz: 440, widthMHz: 0.025 }),
      bytes,
    );
    expect([near.txMHz, near.rxMHz]).toEqual([far.rxMHz, far.txMHz]);
    expect(
      checkPair({
        near: { sheet: near, model: narrow, otherStations: 0 },
        far: { sheet: far, model: narrow, otherStations: 0 },
      }),
    ).toEqual([]);
  });

  it('put the access point where the feed is, give names that say site and role, and free static addresses', () => {
    const { near, far } = proposeSheets(request(), bytes);
    expect([near.role, far.role]).toEqual(['ap', 'station']);
    expect(near.networkName).toMatch(/^[a-z0-9-]{1,32}$/);
    expect(near.deviceName).toMatch(/^ferry-office-ap-to-net/);
    expect([near.address, far.address]).toEqual(['10.61.4.252', '10.61.4.253']);
    expect(far.scanMHz).toEqual([5775]);
    expect([near.conductedDbm, far.conductedDbm]).toEqual([9, 11]);
  });

  it('take another network name where one is taken, whatever its capitals', () => {
    const { networkName } = proposeSheets(request(), bytes).near;
    const second = proposeSheets(request({ takenNetworkNames: [networkName.toUpperCase()] }), bytes).near.networkName;
    expect(second).toBe(`${networkName.slice(0, 29)}-2`);
    expect(second.length).toBeLessThanOrEqual(32);
  });

  it('have a passphrase of their own each time', () => {
    const made = new Set(Array.from({ length: 50 }, () => proposeSheets(request(), bytes).near.passphrase));
    expect(made.size).toBe(50);
  });
});

describe('channels to choose from', () => {
  it('are those that both models tune to and the country allows', () => {
    expect(usableCentresMHz(model(), model(), 'XT', 80)).toEqual([5210, 5290, 5530, 5610, 5690, 5775]);
    expect(usableCentresMHz(model(), model({ lowestMHz: 5470, highestMHz: 5725 }), 'XT', 80)).toEqual([5530, 5610]);
    expect(usableCentresMHz(model(), model(), 'XM', 20)).toContain(5500);
    expect(usableCentresMHz(model(), model(), 'XM', 20)).not.toContain(5745);
    expect(usableCentresMHz(model(), model(), 'XX', 20)).toEqual([]);
  });
});
