import { bands, checkPair, channelCentresMHz, willPair, type Model, type PairingEnd, type Sheet } from '@kivram/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runBench } from '../src';
import { testModel } from './models';

/** A model of each band, and for 5 GHz also poorer ones, so that hardware limits come into play. */
const models: Model[] = [
  testModel({ band: '2.4GHz' }),
  testModel(),
  testModel({ id: 'plain', protocols: ['802.11'], widthsMHz: [20, 40], hasPtpOnly: false }),
  testModel({ id: 'upper', lowestMHz: 5470, highestMHz: 5725 }),
  testModel({ band: '60GHz', phy: 'DMG' }),
  testModel({ band: 'licensed' }),
];

const soundSheet = (model: Model, role: Sheet['role'], address: string): Sheet => {
  const widthMHz = model.widthsMHz.at(0) ?? 20;
  const centres = channelCentresMHz(model.band, widthMHz).filter(
    (c) => c - widthMHz / 2 >= model.lowestMHz && c + widthMHz / 2 <= model.highestMHz,
  );
  return {
    role,
    networkName: 'quay-ice-works',
    security: 'wpa2-psk',
    passphrase: 'abcd-efgh-jkmn',
    band: model.band,
    centreMHz: centres.at(1) ?? 450,
    scanMHz: [],
    widthMHz,
    followsWidth: false,
    protocol: '802.11',
    ptpOnly: false,
    bridge: true,
    conductedDbm: 3,
    country: 'XT',
    address,
    prefix: 24,
    gateway: null,
    deviceName: role,
    firmware: '1.0',
    txMHz: role === 'ap' ? 450 : 460,
    rxMHz: role === 'ap' ? 460 : 450,
  };
};

/** Settings an installer may get wrong, one value at a time. */
const slip: fc.Arbitrary<Partial<Sheet>> = fc.oneof(
  fc.constantFrom<Sheet['role']>('ap', 'station').map((role) => ({ role })),
  fc
    .constantFrom('quay-ice-works', 'Quay-Ice-Works', 'quay-ice-works ', 'home')
    .map((networkName) => ({ networkName })),
  fc.constantFrom<Sheet['security']>('open', 'wpa2-psk', 'wpa3-sae').map((security) => ({ security })),
  fc.constantFrom('abcd-efgh-jkmn', 'Abcd-efgh-jkmn', null).map((passphrase) => ({ passphrase })),
  fc.constantFrom(...bands).map((band) => ({ band })),
  fc
    .constantFrom(2417, 5200, 5190, 5210, 5500, 5510, 5530, 5720, 5745, 5775, 60480, 64800, 5203)
    .map((centreMHz) => ({ centreMHz })),
  fc.subarray([2417, 5200, 5190, 5210, 5500, 5510, 5530, 60480]).map((scanMHz) => ({ scanMHz })),
  fc.constantFrom(20, 40, 80, 160, 2160, 0.025, 0.3).map((widthMHz) => ({ widthMHz })),
  fc.boolean().map((followsWidth) => ({ followsWidth })),
  fc.constantFrom<Sheet['protocol']>('802.11', 'slots').map((protocol) => ({ protocol })),
  fc.boolean().map((ptpOnly) => ({ ptpOnly })),
  fc.boolean().map((bridge) => ({ bridge })),
  fc.constantFrom('XT', 'XM', 'XX').map((country) => ({ country })),
  fc
    .constantFrom('10.20.0.7', '10.20.0.8', '10.20.1.8', '192.168.1.20', '10.20.0.0', '10.20.0.255')
    .map((address) => ({ address })),
  fc.constantFrom(16, 24, 25, 30).map((prefix) => ({ prefix })),
  fc.constantFrom(450, 460, 455, null).map((txMHz) => ({ txMHz })),
  fc.constantFrom(450, 460, 455, null).map((rxMHz) => ({ rxMHz })),
);

const end = (model: fc.Arbitrary<Model>, role: Sheet['role'], address: string): fc.Arbitrary<PairingEnd> =>
  fc
    .record({ model, slips: fc.array(slip, { maxLength: 2 }), otherStations: fc.constantFrom(0, 0, 1, 2) })
    .map(({ model: m, slips, otherStations }) => ({
      model: m,
      otherStations,
      sheet: Object.assign({}, soundSheet(m, role, address), ...slips),
    }));

const pair = fc
  .constantFrom(...models)
  .chain((model) => {
    const mostlySame = fc.oneof(
      { weight: 5, arbitrary: fc.constant(model) },
      { weight: 1, arbitrary: fc.constantFrom(...models) },
    );
    return fc.record({
      near: end(fc.constant(model), 'ap', '10.20.0.7'),
      far: end(mostlySame, 'station', '10.20.0.8'),
    });
  })
  .chain((p) => fc.boolean().map((turned) => (turned ? { near: p.far, far: p.near } : p)));

describe('"Will they pair?" against radios that try', () => {
  it('says "will pair" exactly when the simulated pair becomes a link, over 6000 random pairs of sheets', () => {
    const seen = { pairs: 0, fails: 0, causes: new Set<string>() };
    fc.assert(
      fc.property(pair, ({ near, far }) => {
        const run = runBench({ label: 'near', ...near }, { label: 'far', ...far });
        const findings = checkPair({ near, far });
        seen[run.linked ? 'pairs' : 'fails']++;
        for (const finding of findings) if (finding.severity === 'blocks') seen.causes.add(finding.cause);
        const why = `${JSON.stringify(findings.map((f) => f.cause))} ${JSON.stringify(run.events)}`;
        expect(willPair({ near, far }), why).toBe(run.linked);
      }),
      { numRuns: 6000, seed: 20261125 },
    );
    // The comparison means something only if both outcomes and every cause came up.
    expect(seen.pairs).toBeGreaterThan(500);
    expect(seen.fails).toBeGreaterThan(500);
    expect([...seen.causes].length).toBeGreaterThanOrEqual(20);
  });

  it.each([
    ['both access points', { role: 'ap' }, 'bothAp'],
    ['name in other case', { networkName: 'Quay-ice-works' }, 'networkNameCase'],
    ['wrong passphrase', { passphrase: 'abcd-efgh-jkmm' }, 'passphrase'],
    ['router at the far end', { bridge: false }, 'bridgeMode'],
    ['factory address twice', { address: '10.20.0.7' }, 'sameAddress'],
    ['channel missing from the list', { scanMHz: [5500] }, 'channelNotScanned'],
  ] as [string, Partial<Sheet>, string][])('%s: named, and the radios fail for it', (_, change, cause) => {
    const model = testModel();
    const near = { label: 'near', model, otherStations: 0, sheet: soundSheet(model, 'ap', '10.20.0.7') };
    const far = {
      label: 'far',
      model,
      otherStations: 0,
      sheet: { ...soundSheet(model, 'station', '10.20.0.8'), ...change },
    };
    expect(runBench(near, far).linked).toBe(false);
    expect(
      checkPair({ near, far })
        .filter((f) => f.severity === 'blocks')
        .map((f) => f.cause),
    ).toEqual([cause]);
  });
});
