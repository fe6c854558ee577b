import type { Band, Model } from '@kivram/core/gear/model';
import { radioKinds, type Protocol } from '@kivram/core/radio/kinds';
import type { Phy } from '@kivram/core/radio/kinds/kind';
import type { RuleSet, SpectrumRule } from '@kivram/core/spectrum/ruleSet';

/** Spec sheets for tests: invented, with round figures. */
export function testModel(changes: Partial<Model> = {}): Model {
  const band: Band = changes.band ?? '5GHz';
  const tuning = {
    '2.4GHz': { lowestMHz: 2400, highestMHz: 2484, widthsMHz: [20, 40] },
    '5GHz': { lowestMHz: 5150, highestMHz: 5850, widthsMHz: [20, 40, 80] },
    '60GHz': { lowestMHz: 57000, highestMHz: 66000, widthsMHz: [2160] },
    licensed: { lowestMHz: 400, highestMHz: 470, widthsMHz: [0.025, 0.3] },
  }[band];
  const phy: Phy = changes.phy ?? ({ '2.4GHz': 'HT', '5GHz': 'VHT', '60GHz': 'DMG', licensed: 'NB' }[band] as Phy);
  return {
    id: `test-${band}`,
    maker: 'Test',
    name: `Test ${band}`,
    band,
    ...tuning,
    phy,
    streams: 2,
    protocols: ['802.11', 'slots'] satisfies Protocol[],
    leastConductedDbm: 0,
    mostConductedDbm: 26,
    antennaGainDbi: 23,
    beamWidth: { azimuthDeg: 10, elevationDeg: 10 },
    noiseFigureDb: 5,
    sensitivities: [false, true].flatMap((errorCorrection) =>
      tuning.widthsMHz.flatMap((widthMHz) =>
        radioKinds[phy].steps.map((mcs) => ({
          mcs,
          widthMHz,
          // A good radio does 8 dB better than its standard asks.
          rslDbm: radioKinds[phy].minimumSensitivityDbm(mcs, widthMHz, errorCorrection) - 8,
          errorCorrection,
        })),
      ),
    ),
    overloadDbm: -20,
    ethernetMbps: 1000,
    poe: 'passive24',
    hasPtpOnly: true,
    ...changes,
  };
}

const rule = (lowestMHz: number, highestMHz: number, mostEirpDbm: number, radar = false): SpectrumRule => ({
  lowestMHz,
  highestMHz,
  mostEirpDbm,
  radar,
});

/** Two made-up countries: codes of the range that ISO 3166 leaves to users. */
export const testLaw: readonly RuleSet[] = [
  {
    country: 'XT',
    name: 'Testland',
    validFrom: '2026-01-01',
    rules: [
      rule(2400, 2483.5, 20),
      rule(5150, 5250, 23),
      rule(5250, 5350, 23, true),
      rule(5470, 5725, 30, true),
      rule(5725, 5850, 36),
      rule(57000, 66000, 55),
    ],
  },
  {
    country: 'XM',
    name: 'Otherland',
    validFrom: '2026-01-01',
    rules: [rule(2400, 2483.5, 20), rule(5470, 5725, 30, true), rule(57000, 64000, 55)],
  },
];
