import { describe, expect, it } from 'vitest';
import { endOf, modelOf, planOf } from '../../test/plans';
import { benchPower, benchPowerWords } from './benchPower';

describe('power on the bench', () => {
  it('is 3 to 5 dBm and less for small antennas metres apart (common practice, no source), and dishes want an attenuator', () => {
    const panel = endOf(0, { model: modelOf({ antennaGainDbi: 13, overloadDbm: -25 }) });
    const { mostDbm } = benchPower(planOf({ near: panel, far: panel }), 3);
    expect(mostDbm.near).toBeGreaterThan(-5);
    expect(mostDbm.near).toBeLessThan(6);
    // 20 dBm at least, 9 dBi, half a metre apart at 460 MHz: as with licensed sets, which get dummy loads
    const licensed = endOf(0, {
      model: modelOf({ antennaGainDbi: 9, leastConductedDbm: 20, overloadDbm: -20, lowestMHz: 430, highestMHz: 470 }),
    });
    const air = { kind: 'duplex' as const, centreMHz: 457.5, returnMHz: 467.5, widthMHz: 0.025 };
    expect(benchPower(planOf({ air, near: licensed, far: licensed }), 1).attenuatorDb.near).toBeGreaterThan(20);
  });
});

describe('what is set on the bench, in words', () => {
  it('is one figure for every page: the most that the other bears, or the least with an attenuator', () => {
    const words = (distanceM: number): string => benchPowerWords(planOf(), 'near', benchPower(planOf(), distanceM));
    // 20 dBi at both ends, overload −30 dBm less 3: −33 + (32.45 + 20 lg 5800 + 20 lg 0.002) − 40 = −19.3 dBm at 2 m.
    expect(words(2)).toBe('its least, 0 dBm, with 20 dB of attenuator or dummy loads, or further apart');
    expect(words(60)).toBe('at most 10 dBm');
  });
});
