import { describe, expect, it } from 'vitest';
import { radioKinds } from '../radio/kinds';
import type { Model } from './model';
import { checkSpec } from './plausible';

const sound: Model = {
  id: 'marten-23',
  maker: 'Marten',
  name: 'M 23',
  band: '5GHz',
  lowestMHz: 5150,
  highestMHz: 5850,
  phy: 'VHT',
  streams: 2,
  protocols: ['802.11'],
  widthsMHz: [20, 40],
  leastConductedDbm: 0,
  mostConductedDbm: 25,
  antennaGainDbi: 23,
  beamWidth: { azimuthDeg: 10, elevationDeg: 10 },
  noiseFigureDb: 6,
  sensitivities: [20, 40].flatMap((widthMHz) =>
    radioKinds.VHT.steps.map((mcs) => ({
      mcs,
      widthMHz,
      rslDbm: Math.round(radioKinds.VHT.minimumSensitivityDbm(mcs, widthMHz, false)),
    })),
  ),
  overloadDbm: -25,
  ethernetMbps: 1000,
  poe: 'passive24',
  hasPtpOnly: false,
};

const swapped = sound.sensitivities.map((s) => (s.widthMHz === 20 && s.mcs === 3 ? { ...s, rslDbm: -80 } : s));

describe('a spec sheet is looked over', () => {
  it('and nothing is said of a sound one', () => {
    expect(checkSpec(sound)).toEqual([]);
  });

  // 10 lg(31,000 / (10 x 10)) = 24.9 dBi
  it('for gain that its beams do not allow: 31,000 over their product', () => {
    expect(checkSpec({ ...sound, antennaGainDbi: 25.8 })).toEqual([]);
    const [finding] = checkSpec({ ...sound, antennaGainDbi: 26 });
    expect(finding?.reason).toContain('allow about 24.9 dBi, not 26');
  });

  it.each<[string, Partial<Model>, Model['band'] | '', string, Partial<Model> | undefined]>([
    ['milliwatts', { mostConductedDbm: 50 }, '', '50 mW are 17 dBm', { mostConductedDbm: 17 }],
    ['hundreds of milliwatts', { mostConductedDbm: 500 }, '', '500 mW are 27 dBm', { mostConductedDbm: 27 }],
    ['kilohertz', { lowestMHz: 5_150_000 }, '', 'kilohertz typed? Then it is 5150 MHz', { lowestMHz: 5150 }],
    ['gigahertz', { highestMHz: 5.85 }, '', 'gigahertz typed? Then it is 5850 MHz', { highestMHz: 5850 }],
    ['a missing sign', { overloadDbm: 25 }, '', 'is the sign missing', { overloadDbm: -25 }],
    ['gigabits', { ethernetMbps: 1 }, '', '1000 Mbit/s', { ethernetMbps: 1000 }],
    ['milliseconds', { bootS: 45_000 }, '', 'milliseconds', { bootS: 45 }],
    [
      'ends exchanged',
      { lowestMHz: 5850, highestMHz: 5150 },
      '',
      'must be above',
      { lowestMHz: 5150, highestMHz: 5850 },
    ],
    [
      'powers exchanged',
      { leastConductedDbm: 25, mostConductedDbm: 0 },
      '',
      'above its most',
      { leastConductedDbm: 0, mostConductedDbm: 25 },
    ],
    ['a faster step that needs less', { sensitivities: swapped }, '', 'a faster step needs more', undefined],
    ['watts that its supply does not give', { poe: '802.3af', poeWatts: 18 }, '', 'delivers 12.95 W', undefined],
    ['a deaf noise figure', { noiseFigureDb: 25 }, '', 'more than receivers have', undefined],
  ])('for %s, with what was likely meant', (_, changes, __, words, likely) => {
    const found = checkSpec({ ...sound, ...changes });
    const finding = found.find((f) => f.reason.includes(words));
    expect(finding, found.map((f) => f.reason).join('\n')).toBeDefined();
    if (likely) expect(finding?.likely).toMatchObject(likely);
  });

  it('for kilohertz as the width of a licensed radio', () => {
    const licensed: Model = {
      ...sound,
      band: 'licensed',
      phy: 'NB',
      lowestMHz: 440,
      highestMHz: 450,
      widthsMHz: [25],
      sensitivities: [{ mcs: 0, widthMHz: 25, rslDbm: -90 }],
    };
    expect(checkSpec(licensed).find((f) => f.field === 'widthsMHz')?.likely).toEqual({ widthsMHz: [0.025] });
  });

  it('for steps that are missing, or of a width that it does not have, or stronger than the radio', () => {
    const faults = (changes: Partial<Model>): string[] =>
      checkSpec({ ...sound, ...changes }).flatMap((f) => (f.severity === 'forbids' ? [f.reason] : []));
    expect(faults({ widthsMHz: [20, 40, 80] })).toEqual([expect.stringContaining('No step is known at 80 MHz')]);
    expect(faults({ widthsMHz: [20] })).toEqual([expect.stringContaining('steps at 40 MHz')]);
    const loud = sound.sensitivities.map((s) => (s.mcs === 0 ? { ...s, mostConductedDbm: 28 } : s));
    expect(faults({ sensitivities: loud })[0]).toContain('28 dBm, more than');
  });

  // kTB at 20 MHz: -101 dBm.
  it('for a level below the noise of a perfect receiver', () => {
    const deaf = sound.sensitivities.map((s) => (s.mcs === 0 && s.widthMHz === 20 ? { ...s, rslDbm: -104 } : s));
    expect(checkSpec({ ...sound, sensitivities: deaf })[0]?.reason).toContain(
      'below the noise of a perfect receiver, −101',
    );
  });

  it('for the pattern of another antenna', () => {
    const cut = [-90, -30, 0, 30, 90].map((angleDeg) => ({ angleDeg, lossDb: Math.abs(angleDeg) / 10 }));
    const found = checkSpec({ ...sound, pattern: { azimuth: cut, elevation: cut } });
    expect(found[0]).toMatchObject({ field: 'pattern', likely: { beamWidth: { azimuthDeg: 60, elevationDeg: 10 } } });
  });

  it('and nothing typed can make it fail', () => {
    for (const value of [NaN, Infinity, -Infinity, 0, -1, 1e308]) {
      for (const field of [
        'lowestMHz',
        'mostConductedDbm',
        'antennaGainDbi',
        'overloadDbm',
        'bootS',
        'ethernetMbps',
      ] as const)
        expect(() => checkSpec({ ...sound, [field]: value })).not.toThrow();
      expect(() => checkSpec({ ...sound, beamWidth: { azimuthDeg: value, elevationDeg: value } })).not.toThrow();
    }
  });
});
