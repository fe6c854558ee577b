import { describe, expect, it } from 'vitest';
import { licenceOf, testDay } from '../../test/plans';
import { coveringLicence, licenceDaysLeft, licenceRefusal, licenceStanding, type Licence } from './licence';
import { licenceFaults, licenceOverlaps, type LicensedEnd } from './licenceFaults';

const standingOn = (day: string, changes: Partial<Licence> = {}) => licenceStanding(licenceOf(changes), day);

describe('the days of a licence', () => {
  it('are all from the first to the last one', () => {
    expect(standingOn('2025-12-31')).toBe('coming');
    expect(standingOn('2026-01-01')).toBe('valid');
    expect(standingOn('2026-11-01')).toBe('valid');
    expect(standingOn('2026-11-02')).toBe('ending');
    expect(standingOn('2026-12-31')).toBe('ending');
    expect(standingOn('2027-01-01')).toBe('ended');
    expect(standingOn('1999-01-01', { validFrom: null })).toBe('valid');
    expect(licenceDaysLeft(licenceOf(), '2026-12-31')).toBe(1);
  });
});

describe('what a licence refuses', () => {
  const channel = { centreMHz: 457.5, widthMHz: 0.025 };
  const refusal = (changes: Partial<Licence> = {}, on = channel, day = testDay) =>
    licenceRefusal(licenceOf(changes), on, day);

  it('is nothing on its own frequencies, within its days and its spacing', () => {
    expect(refusal()).toBeUndefined();
    expect(refusal({}, { ...channel, centreMHz: 467.5 })).toBeUndefined();
    expect(refusal({ widthMHz: 0.025 })).toBeUndefined();
  });

  it('is said in words: none chosen, ended, not begun, other frequencies, too wide', () => {
    expect(licenceRefusal(null, channel, testDay)).toContain('no licence is chosen for 457.5 MHz');
    expect(refusal({}, channel, '2027-06-15')).toBe('the licence T 1 ended on 31 Dec 2026');
    expect(refusal({}, channel, '2025-06-15')).toBe('the licence T 1 begins on 1 Jan 2026');
    expect(refusal({}, { ...channel, centreMHz: 458 })).toContain('is for 457.5 and 467.5 MHz, not for 458 MHz');
    expect(refusal({ widthMHz: 0.0125 })).toBe('the licence T 1 has channels of 12.5 kHz, and this one takes 25 kHz');
  });
});

describe('what a licence says against a plan', () => {
  const end = (name: string, sendsMHz: number, occupiedPercent?: number): LicensedEnd => ({
    place: { id: name, name },
    sendsMHz,
    occupiedPercent,
  });
  const faults = (changes: Partial<Licence>, occupied: (number | undefined)[] = [80, 80]) =>
    licenceFaults(licenceOf(changes), [end('Quay', 457.5, occupied[0]), end('Pump', 467.5, occupied[1])], 0.025);

  it('that the ends are swapped, by either place that it names', () => {
    const words = 'the ends are swapped: by the licence T 1 Quay sends on the higher frequency';
    for (const changes of [
      { highPlaceId: 'Quay' },
      { lowPlaceId: 'Pump' },
      { lowPlaceId: 'Pump', highPlaceId: 'Quay' },
    ])
      expect(faults(changes)).toEqual([{ state: 'fails', words }]);
    expect(faults({ lowPlaceId: 'Quay', highPlaceId: 'Pump' })).toEqual([]);
    expect(faults({})).toEqual([]);
  });

  it('that it is for another place', () => {
    expect(faults({ lowPlaceId: 'Mole' })[0]?.words).toBe('the licence T 1 is for another place than Quay');
    expect(faults({ lowPlaceId: 'Quay', highPlaceId: 'Mole' })[0]?.words).toContain('another place than Pump');
  });

  it('that the gear occupies more, and where no sheet tells it, that nobody knows', () => {
    expect(faults({ occupiedMHz: 0.02 })).toEqual([]);
    expect(faults({ occupiedMHz: 0.02 }, [80, 90])).toEqual([
      { state: 'fails', words: 'the licence T 1 allows 20 kHz to be occupied, and the gear takes 22.5 kHz' },
    ]);
    expect(faults({ occupiedMHz: 0.02 }, [80, undefined])[0]).toMatchObject({ state: 'thin' });
    // No carrier is narrower than its symbols are many: 0.71 of 25 kHz.
    expect(faults({ occupiedMHz: 0.016 }, [undefined, undefined])[0]).toMatchObject({ state: 'fails' });
  });
});

describe('several licences', () => {
  it('for the same frequencies are told when their days overlap, a successor is not', () => {
    const old = licenceOf();
    const next = licenceOf({ number: 'T 2', validFrom: '2027-01-01', validUntil: '2027-12-31' });
    expect(licenceOverlaps([old, next, licenceOf({ number: 'T 3', centreMHz: 456, returnMHz: 466 })])).toEqual([]);
    const early = { ...next, validFrom: '2026-12-31', centreMHz: 467.5, returnMHz: 457.5 };
    expect(licenceOverlaps([old, early])).toEqual([
      expect.stringContaining('T 1 and T 2 are for the same frequencies'),
    ]);
    expect(licenceOverlaps([old, { ...next, validFrom: null }])).toHaveLength(1);
  });

  it('of a file that chose none, the one counts that covers the air and holds longest', () => {
    const air = { kind: 'duplex', centreMHz: 467.5, returnMHz: 457.5, widthMHz: 0.025 };
    const long = licenceOf({ number: 'T 2', validUntil: '2028-01-01' });
    expect(coveringLicence(air, [licenceOf(), long])?.number).toBe('T 2');
    expect(coveringLicence(air, [licenceOf({ widthMHz: 0.0125 })])).toBeUndefined();
    expect(coveringLicence({ ...air, kind: 'pair' }, [long])).toBeUndefined();
  });
});
