import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { doubtFrequency, doubtLoss, doubtPower, doubtWidth } from './doubts';
import { modelOf } from '../../test/plans';

const radio = modelOf({ name: 'Span' });
const narrow = modelOf({
  name: 'Thread',
  lowestMHz: 430,
  highestMHz: 470,
  leastConductedDbm: 20,
  mostConductedDbm: 37,
});

describe('choices that were hardly meant', () => {
  it('milliwatts typed as dBm', () => {
    expect(doubtPower(100, radio)).toEqual({
      words: expect.stringContaining('100 mW are 20 dBm') as string,
      likely: 20,
    });
    expect(doubtPower(25, radio)).toBeUndefined();
    expect(doubtPower(-11, radio)?.likely).toBe(11);
    expect(doubtPower(26, modelOf({ leastConductedDbm: 20 }))).toMatchObject({ likely: 25 });
  });

  it('kilohertz, hertz and gigahertz typed as megahertz', () => {
    expect(doubtFrequency(457_500, narrow)?.likely).toBe(457.5);
    expect(doubtFrequency(457_500_000, narrow)?.likely).toBe(457.5);
    expect(doubtFrequency(5.8, radio)?.likely).toBe(5800);
    expect(doubtFrequency(100, radio)).toMatchObject({ likely: null });
    expect(doubtFrequency(5800, radio)).toBeUndefined();
  });

  it('a gain that is a loss', () => {
    expect(doubtLoss(-3, 'A cable loss')).toEqual({
      words: 'A cable loss of -3 dB would be a gain: a loss is written without a sign.',
      likely: 3,
    });
    expect(doubtLoss(0, 'A cable loss')).toBeUndefined();
  });

  it('a width that the mode forbids: the nearest one that both have is meant', () => {
    expect(doubtWidth(20, [radio], false)).toBeUndefined();
    expect(doubtWidth(80, [radio], false)).toMatchObject({ likely: 20 });
    expect(doubtWidth(0.02, [radio], false)).toMatchObject({ likely: 20 });
    // 802.11n has no 80 MHz, whatever the sheet says
    const wrong = modelOf({
      phy: 'HT',
      widthsMHz: [40, 80],
      sensitivities: [40, 80].map((widthMHz) => ({ mcs: 0, widthMHz, rslDbm: -79 })),
    });
    expect(doubtWidth(80, [wrong], false)?.words).toContain('does not allow that width');
  });

  it('whatever is typed, words come back or nothing, and what is likely is possible', () => {
    fc.assert(
      fc.property(fc.double(), (x) => {
        const power = doubtPower(x, radio);
        if (power?.likely != null) expect(doubtPower(power.likely, radio)).toBeUndefined();
        const frequency = doubtFrequency(x, narrow);
        if (frequency?.likely != null) expect(doubtFrequency(frequency.likely, narrow)).toBeUndefined();
        expect(`${power?.words} ${frequency?.words} ${doubtLoss(x, 'It')?.words}`).not.toContain('NaN');
      }),
    );
  });
});
