import { bands, type Model } from '@kivram/core/gear/model';
import { checkPair, willPair } from '@kivram/core/pairing/check';
import type { Pair, PairingEnd } from '@kivram/core/pairing/pair';
import type { Sheet } from '@kivram/core/pairing/sheet';
import { channelCentresMHz } from '@kivram/core/spectrum/channel';
import fc from 'fast-check';
import { runBench } from '../src/radio/bench';
import { testLaw, testModel } from './models';

/** A model of each band, and for 5 GHz also poorer ones, so that hardware limits come into play. */
const models: Model[] = [
  testModel({ band: '2.4GHz' }),
  testModel(),
  testModel({ id: 'plain', protocols: ['802.11'], widthsMHz: [20, 40], hasPtpOnly: false }),
  testModel({ id: 'upper', lowestMHz: 5470, highestMHz: 5725 }),
  testModel({ band: '60GHz' }),
  testModel({ band: 'licensed' }),
];

export const soundSheet = (model: Model, role: Sheet['role'], address: string): Sheet => {
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
    deviceName: `${role} at ${address}`,
    firmware: '1.0',
    neighbours: [],
    errorCorrection: false,
    txMHz: role === 'ap' ? 450 : 460,
    rxMHz: role === 'ap' ? 460 : 450,
  };
};

export const macs = { near: '02:00:00:00:00:0a', far: '02:00:00:00:00:0b' };

/** Settings an installer may get wrong, one value at a time. */
const slip: fc.Arbitrary<Partial<Sheet>> = fc.oneof(
  fc.constantFrom<Sheet['role']>('ap', 'station', 'relay').map((role) => ({ role })),
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
  fc.constantFrom(450, 460, 455, null, 480).map((rxMHz) => ({ rxMHz })),
  fc.constantFrom(-5, 0, 3, 12, 20, 26, 27, 60).map((conductedDbm) => ({ conductedDbm })),
  fc.boolean().map((errorCorrection) => ({ errorCorrection })),
  fc.constantFrom('10.20.0.1', '10.99.0.1').map((gateway) => ({ gateway })),
  fc.constantFrom('1.0', '1.1').map((firmware) => ({ firmware })),
  fc.constantFrom('mast', 'quay').map((deviceName) => ({ deviceName })),
  fc.subarray([macs.near, macs.far, '02:00:00:00:00:0c']).map((neighbours) => ({ neighbours })),
);

/** Fields that an installer often sets at both ends alike, so that a slip at both is no difference: channel, power, name, country, protocol. */
const both: fc.Arbitrary<Partial<Sheet>> = fc.oneof(
  { weight: 3, arbitrary: fc.constant({}) },
  { weight: 1, arbitrary: slip },
  { weight: 1, arbitrary: fc.constantFrom(5200, 5500, 5560, 5745).map((centreMHz) => ({ centreMHz, widthMHz: 20 })) },
  { weight: 1, arbitrary: fc.constantFrom(14, 22, 26).map((conductedDbm) => ({ conductedDbm })) },
  { weight: 1, arbitrary: fc.constant({ protocol: 'slots' as const }) },
);

const end = (model: fc.Arbitrary<Model>, role: Sheet['role'], which: 'near' | 'far'): fc.Arbitrary<PairingEnd> =>
  fc
    .record({
      model,
      slips: fc.array(slip, { maxLength: 2 }),
      otherStations: fc.constantFrom(0, 0, 1, 2),
      mac: fc.constantFrom(macs[which], macs[which], macs[which], null),
    })
    .map(({ model: m, slips, otherStations, mac }) => ({
      model: m,
      mac,
      otherStations,
      sheet: Object.assign({}, soundSheet(m, role, which === 'near' ? '10.20.0.7' : '10.20.0.8'), ...slips),
    }));

/** Random pairs of sheets: most are an access point and a station; some are two relays that list each other. */
export const pair: fc.Arbitrary<Pair> = fc
  .record({ model: fc.constantFrom(...models), relays: fc.constantFrom(false, false, false, true), alike: both })
  .chain(({ model, relays, alike }) => {
    const mostlySame = fc.oneof(
      { weight: 5, arbitrary: fc.constant(model) },
      { weight: 1, arbitrary: fc.constantFrom(...models) },
    );
    const common = (e: PairingEnd, neighbour: string): PairingEnd => {
      const slipped = e.sheet.role === 'station' || e.sheet.role === 'ap' ? e.sheet.role : undefined;
      const chain = relays && slipped ? { role: 'relay' as const, neighbours: [neighbour, ...e.sheet.neighbours] } : {};
      return { ...e, sheet: { ...e.sheet, ...chain, ...alike } };
    };
    return fc
      .record({
        near: end(fc.constant(model), 'ap', 'near'),
        far: end(mostlySame, 'station', 'far'),
        forgets: fc.constantFrom(false, false, false, true),
      })
      .map(({ near, far, forgets }) => ({
        near: common(near, macs.far),
        far: common(far, forgets ? '02:00:00:00:00:0c' : macs.near),
      }));
  })
  .chain((p) => fc.boolean().map((turned) => (turned ? { near: p.far, far: p.near } : p)))
  .map((p) => ({ ...p, law: testLaw }));

/** What was seen over many pairs. */
export interface Seen {
  pairs: number;
  fails: number;
  causes: Set<string>;
}

/** Lets random pairs of radios try, and asks the check about each. @throws where the check says otherwise than the radios do, with the pair and the seed to repeat it by */
export function tryPairs(numRuns: number, seed: number): Seen {
  const seen: Seen = { pairs: 0, fails: 0, causes: new Set() };
  fc.assert(
    fc.property(pair, (drawn) => {
      const { near, far } = drawn;
      const run = runBench({ label: 'near', ...near }, { label: 'far', ...far }, testLaw);
      const findings = checkPair(drawn);
      seen[run.linked ? 'pairs' : 'fails']++;
      for (const { cause } of findings) seen.causes.add(cause);
      if (willPair(drawn) !== run.linked)
        throw new Error(
          `the radios say otherwise: ${JSON.stringify(findings.map((f) => f.cause))} ${JSON.stringify(run.events)}`,
        );
    }),
    { numRuns, seed },
  );
  return seen;
}
