import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitLobe, type LobePoint } from './aiming/lobeFit';
import { apertureLossDb } from './antenna/mainLobe';
import { solveGeodesic, wrap180 } from './geodesy/geodesic';
import { earthBulgeM, tiltDeg } from './geodesy/tilt';
import { freeSpaceLossDb } from './propagation/freeSpace';
import { fresnelRadiusM } from './propagation/fresnel';
import { expectTcp } from './throughput/expectation';
import { unitConfusion } from './throughput/unit';
import { judgeThroughput } from './verdict/throughputVerdict';

/** What must hold for any values, beside the published values of single points. */
const latitude = fc.double({ min: -80, max: 80, noNaN: true });
const longitude = fc.double({ min: -179, max: 179, noNaN: true });
const position = fc.record({ latitudeDeg: latitude, longitudeDeg: longitude });

describe('geometry', () => {
  it('is the same length both ways, and each bearing is the other end’s reverse bearing', () => {
    fc.assert(
      fc.property(position, position, (a, b) => {
        const [there, back] = [solveGeodesic(a, b), solveGeodesic(b, a)];
        fc.pre(there.distanceM > 10 && there.distanceM < 1.9e7);
        expect(there.distanceM).toBeCloseTo(back.distanceM, 4);
        expect(Math.abs(wrap180(there.azimuthDeg - back.reverseAzimuthDeg))).toBeLessThan(1e-6);
        expect(Math.abs(wrap180(there.reverseAzimuthDeg - back.azimuthDeg))).toBeLessThan(1e-6);
      }),
    );
  });

  it('tilts sum to minus the arc between the ends: what one looks up the other looks down, but for the curve of the Earth', () => {
    const height = fc.double({ min: 0, max: 3000, noNaN: true });
    fc.assert(
      fc.property(height, height, fc.double({ min: 50, max: 80_000, noNaN: true }), (near, far, distanceM) => {
        const arcDeg = ((distanceM / ((4 / 3) * 6_371_000)) * 180) / Math.PI;
        expect(tiltDeg(near, far, distanceM) + tiltDeg(far, near, distanceM)).toBeCloseTo(-arcDeg, 8);
      }),
    );
  });

  it('bulge and Fresnel zone are greatest in the middle and nothing at the ends', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 100, max: 50_000, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (d, share) => {
          const [d1, d2] = [d * share, d * (1 - share)];
          expect(earthBulgeM(d1, d2)).toBeLessThanOrEqual(earthBulgeM(d / 2, d / 2) + 1e-9);
          expect(fresnelRadiusM(d1, d2, 5800)).toBeLessThanOrEqual(fresnelRadiusM(d / 2, d / 2, 5800) + 1e-9);
          expect(fresnelRadiusM(0, d, 5800)).toBe(0);
        },
      ),
    );
  });
});

describe('free space', () => {
  it('costs 6.02 dB for twice the distance or twice the frequency (inverse square)', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 3, max: 1e6, noNaN: true }),
        fc.double({ min: 100, max: 1e5, noNaN: true }),
        (d, f) => {
          expect(freeSpaceLossDb(2 * d, f) - freeSpaceLossDb(d, f)).toBeCloseTo(20 * Math.log10(2), 9);
          expect(freeSpaceLossDb(d, 2 * f) - freeSpaceLossDb(d, f)).toBeCloseTo(20 * Math.log10(2), 9);
        },
      ),
    );
  });
});

describe('the lobe fit', () => {
  const lobe = (centre: number, width: number, peakDbm: number): LobePoint[] =>
    Array.from({ length: 80 }, (_, i) => {
      const u = -1 + i / 40;
      return { x: centre + u * width, levelDbm: peakDbm - apertureLossDb(u), pushedFrom: 0, agoS: 0 };
    });

  it('moves with the lobe, and does not care where zero is or how strong the signal', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.double({ min: -90, max: -30, noNaN: true }),
        fc.constantFrom(2, 6, 30, 45),
        (centre, peakDbm, width) => {
          const fit = fitLobe(lobe(centre, width, peakDbm), { width, widthRelativeSd: 0.2 });
          expect(Math.abs((fit?.x ?? NaN) - centre)).toBeLessThan(0.02 * width);
          expect(fit?.peakDbm).toBeCloseTo(peakDbm, 1);
          expect((fit?.width ?? NaN) / width).toBeCloseTo(1, 1);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('survives any points at all', () => {
    const point = fc.record({
      x: fc.double({ min: -1e3, max: 1e3, noNaN: true }),
      levelDbm: fc.double({ min: -120, max: 0, noNaN: true }),
      pushedFrom: fc.constantFrom(-1, 0, 1),
      agoS: fc.double({ min: 0, max: 1e3, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(point, { maxLength: 60 }), (points) => {
        const fit = fitLobe(points, { width: 6, widthRelativeSd: 0.3, halfPlaySd: 0.3, driftSd: 0.02 });
        if (fit)
          for (const value of [fit.x, fit.peakDbm, fit.width, fit.xSd]) expect(Number.isFinite(value)).toBe(true);
      }),
      { numRuns: 300 },
    );
  });
});

describe('throughput', () => {
  const rate = fc.double({ min: 1, max: 5000, noNaN: true });
  const expectAt = (phyRateMbps: number, ethernetMbps: number) =>
    expectTcp({ phy: 'HE', protocol: '802.11', phyRateMbps, reversePhyRateMbps: phyRateMbps, ethernetMbps });

  it('never exceeds the rate on air or the port, and never falls as either rises', () => {
    fc.assert(
      fc.property(rate, rate, fc.constantFrom(100, 1000, 2500), (a, b, port) => {
        const [slow, fast] = [expectAt(Math.min(a, b), port), expectAt(Math.max(a, b), port)];
        expect(fast.aloneMbps).toBeGreaterThanOrEqual(slow.aloneMbps - 1e-9);
        expect(fast.aloneMbps).toBeLessThan(Math.min(Math.max(a, b), port));
        expect(fast.bothMbps).toBeLessThanOrEqual(fast.aloneMbps);
      }),
    );
  });

  it('has a verdict with a reason for any measured rate', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1e4, noNaN: true }),
        rate,
        rate,
        fc.boolean(),
        (measuredMbps, phy, needMbps, bothLoaded) => {
          const verdict = judgeThroughput({
            measuredMbps,
            aborted: false,
            bothLoaded,
            otherMbps: null,
            lossShare: null,
            conditions: null,
            ceiling: null,
            expectation: expectAt(phy, 1000),
            halfWidth: expectAt(phy / 2, 1000),
            atMeasuredLevel: null,
            needMbps,
            feedMbps: null,
          });
          expect(verdict.state === 'fails').toBe(measuredMbps < needMbps);
          expect(verdict.reason.length).toBeGreaterThan(10);
          expect(verdict.reason).not.toMatch(/NaN|undefined/);
        },
      ),
    );
  });

  it('never doubts a rate that fits', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.8, max: 1, noNaN: true }), rate, (share, expected) => {
        expect(unitConfusion(share * expected, 'Mbit/s', expected)).toBeUndefined();
      }),
    );
  });
});
