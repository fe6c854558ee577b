import { describe, expect, it } from 'vitest';
import { checkPair } from './check';
import { proposeSheets, usableCentresMHz, type SheetRequest, type SheetWish } from './proposal';
import type { Sheet } from './sheet';
import type { Air } from '../air/air';
import type { Model } from '../gear/model';
import { lawOf, type RuleSet } from '../spectrum/ruleSet';
import { testLaw } from '../../test/law';
import { airOf } from '../../test/plans';

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

const wish = (place: string, changes: Partial<SheetWish> = {}): SheetWish => ({
  place,
  model: model(),
  role: 'access',
  conductedDbm: 9,
  neighbours: [],
  serving: null,
  ...changes,
});

interface Wishes {
  air?: Partial<Air>;
  near?: Partial<SheetWish>;
  far?: Partial<SheetWish>;
  takenNetworkNames?: string[];
}

const request = ({ air, near, far, takenNetworkNames = [] }: Wishes = {}): SheetRequest => ({
  jobName: 'Tessary harbour',
  air: airOf({ centreMHz: 5775, widthMHz: 80, ...air }),
  near: wish('Ferry office', near),
  far: wish('Net løft & Söhne', { role: 'station', conductedDbm: 11, ...far }),
  country: 'XT',
  network: {
    subnet: {
      address: '10.61.4.0',
      prefix: 24,
      gateway: '10.61.4.1',
      dhcp: [{ first: '10.61.4.100', last: '10.61.4.199' }],
    },
    taken: ['10.61.4.254'],
  },
  firmware: '1.0',
  takenNetworkNames,
});

/** What the check finds between two proposed sheets. */
const findings = (
  sheets: { near: Sheet; far: Sheet },
  models: { near?: Model; far?: Model } = {},
  macs: { near?: string; far?: string } = {},
) => {
  const end = (e: 'near' | 'far') => ({
    sheet: sheets[e],
    model: models[e] ?? model(),
    mac: macs[e] ?? null,
    otherStations: 0,
  });
  return checkPair({ near: end('near'), far: end('far'), law: testLaw }).map((f) => f.cause);
};

let seed = 1;
const bytes = (count: number): Uint8Array =>
  Uint8Array.from({ length: count }, () => (seed = (seed * 48271) % 2147483647) % 256);

describe('proposed sheets', () => {
  it('will pair, with no warning, for every pair of models that can', () => {
    for (const ptp of [true, false]) {
      const nearModel = model({ hasPtpOnly: ptp });
      const sheets = proposeSheets(request({ near: { model: nearModel } }), bytes);
      expect(findings(sheets, { near: nearModel })).toEqual([]);
      expect(sheets.near.ptpOnly).toBe(ptp);
    }
  });

  it('also as a full-duplex pair, its frequencies exchanged', () => {
    const narrow = model({ band: 'licensed', phy: 'NB', lowestMHz: 400, highestMHz: 470, widthsMHz: [0.025] });
    const air = { kind: 'duplex', centreMHz: 440, returnMHz: 450, widthMHz: 0.025, errorCorrection: true } as const;
    const sheets = proposeSheets(request({ air, near: { model: narrow }, far: { model: narrow } }), bytes);
    expect([sheets.near.txMHz, sheets.near.rxMHz]).toEqual([440, 450]);
    expect([sheets.far.txMHz, sheets.far.rxMHz]).toEqual([450, 440]);
    expect(sheets.far.errorCorrection).toBe(true);
    expect(findings(sheets, { near: narrow, far: narrow })).toEqual([]);
  });

  it('let a further station of a hub follow what the hub is set to, and leave the hub as it is', () => {
    const first = proposeSheets(request({ air: { kind: 'hub' } }), bytes);
    expect(first.near.ptpOnly).toBe(false);
    const second = proposeSheets(request({ air: { kind: 'hub' }, near: { serving: first.near } }), bytes);
    expect(second.near).toEqual(first.near);
    expect(second.far.passphrase).toBe(first.near.passphrase);
    expect(second.far.networkName).toBe(first.near.networkName);
    expect(second.far.address).not.toBe(first.near.address);
    expect(findings(second)).toEqual([]);
  });

  it('make every radio of a chain a relay that lists its neighbours', () => {
    const [a, b] = ['02:00:00:00:00:0a', '02:00:00:00:00:0b'];
    const sheets = proposeSheets(
      request({
        air: { kind: 'chain' },
        near: { neighbours: [b] },
        far: { role: 'relay', neighbours: [a, '02:00:00:00:00:0c'] },
      }),
      bytes,
    );
    expect([sheets.near.role, sheets.far.role]).toEqual(['relay', 'relay']);
    expect(findings(sheets, {}, { near: a, far: b })).toEqual([]);
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

const [xt, xm] = ['XT', 'XM'].map((country) => lawOf(testLaw, country) ?? null) as [RuleSet | null, RuleSet | null];

describe('channels to choose from', () => {
  it('are those that both models tune to and the country allows', () => {
    expect(usableCentresMHz(model(), model(), xt, 80)).toEqual([5210, 5290, 5530, 5610, 5775]);
    expect(usableCentresMHz(model(), model({ lowestMHz: 5470, highestMHz: 5725 }), xt, 80)).toEqual([5530, 5610]);
    expect(usableCentresMHz(model(), model(), xm, 20)).toContain(5500);
    expect(usableCentresMHz(model(), model(), xm, 20)).not.toContain(5745);
    // Where no rules are at hand nothing is left out for their sake.
    expect(usableCentresMHz(model(), model(), null, 20)).toEqual(expect.arrayContaining([5180, 5500, 5825]));
  });
});
