import { causes } from '@kivram/core/pairing/causes';
import { checkPair } from '@kivram/core/pairing/check';
import type { Sheet } from '@kivram/core/pairing/sheet';
import { describe, expect, it } from 'vitest';
import { runBench } from '../src/radio/bench';
import { testLaw, testModel } from './models';
import { macs, soundSheet, tryPairs } from './pairs';

describe('"Will they pair?" against radios that try', () => {
  it('says "will pair" exactly when the simulated pair becomes a link, over random pairs of sheets', () => {
    // Many more, each time others, are tried by the siege.
    const seen = tryPairs(1500, 20261125);
    // The comparison means something only if both outcomes and every cause came up.
    expect(seen.pairs).toBeGreaterThan(120);
    expect(seen.fails).toBeGreaterThan(120);
    // Half an address never reaches a radio: its page refuses it, as Kivram does.
    const possible = causes.map((c) => c.cause).filter((cause) => cause !== 'addressMalformed');
    expect([...seen.causes].sort()).toEqual(possible.sort());
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
    const near = {
      label: 'near',
      model,
      mac: macs.near,
      otherStations: 0,
      sheet: soundSheet(model, 'ap', '10.20.0.7'),
    };
    const far = {
      label: 'far',
      model,
      mac: macs.far,
      otherStations: 0,
      sheet: { ...soundSheet(model, 'station', '10.20.0.8'), ...change },
    };
    expect(runBench(near, far, testLaw).linked).toBe(false);
    expect(
      checkPair({ near, far, law: testLaw })
        .filter((f) => f.severity === 'blocks')
        .map((f) => f.cause),
    ).toEqual([cause]);
  });
});
