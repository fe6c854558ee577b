import { describe, expect, it } from 'vitest';
import { figuresOf, worseThan } from '../bench/figures.mjs';

const valuesOf = (/** @type {string} */ bench, /** @type {string} */ printed) =>
  Object.fromEntries(figuresOf(bench, printed, 100).map(({ name, value }) => [name, value]));

describe('the figures of a bench', () => {
  it('are times as multiples of the loop, counts and bytes as they are, with what they stand under', () => {
    const printed = [
      'The first screen of a job of 1000 links',
      '  as it is opened every day, median of 20                          133 ms',
      '    SQL statements                                                     6',
      '    sent, with 50 of 1000 links                                    88 KiB',
      '    slowest of 20                                                  196 ms',
      'Visible area of 10 km on a grid: 349081 cells, 81 % seen',
      '  gdal_viewshed, whole program                                     183 ms  of it starting: 111 ms',
      '  plain sight                                                      1.61 ms  wanted: under 2 ms',
    ].join('\n');
    const of = 'job: The first screen of a job of 1000 links: as it is opened every day, median of 20';
    expect(valuesOf('job', printed)).toEqual({
      [of]: 1.33,
      [`${of}: SQL statements`]: 6,
      [`${of}: sent, with 50 of 1000 links`]: 88,
      'job: Visible area of 10 km on a grid: plain sight': 0.0161,
    });
  });

  it('of a table are its medians, and rates that go by the clock are no multiples', () => {
    const printed = [
      'From sample to viewer                                          samples   median     95th     99th',
      '  50 viewers: until it arrives                                  9751     9 ms    20 ms    33 ms',
      '  meanwhile                                                     66 s',
      '    readings, on average                                        9.76 per second',
    ].join('\n');
    expect(valuesOf('viewers', printed)).toEqual({
      'viewers: From sample to viewer: 50 viewers: until it arrives': 0.09,
      'viewers: From sample to viewer: meanwhile: readings, on average': 9.76,
    });
  });

  it('are named where they are worse by more than a quarter, rates the other way round', () => {
    const figure = (/** @type {string} */ name, /** @type {number} */ value, isRate = false) => ({
      name,
      value,
      isRate,
    });
    const before = { time: 1, count: 6, rate: 10, none: 0 };
    const now = [figure('time', 1.24), figure('count', 8), figure('rate', 7.5, true), figure('none', 0)];
    expect(worseThan(before, now)).toEqual([
      'count: 8 instead of 6, 1.3 times as bad',
      'rate: 7.5 instead of 10, 1.3 times as bad',
    ]);
    expect(worseThan({}, [figure('new', 3)])).toEqual(['new: 3, and nothing was accepted yet']);
  });

  it('of aiming are what simulated people lose and how long they take, under the name of the first line', () => {
    const printed = [
      'usual                                              phone     0.16    0.28    0.0 %    0.0 %    18   22      227 ',
      '                                                   none      0.23    0.75    0.0 %    0.0 %    15   25      338 !',
      '                                                   habit     1.08    2.58    0.0 %    0.0 %     6    7      152 ',
    ].join('\n');
    expect(valuesOf('aiming', printed)).toEqual({
      'aiming: usual, phone: loss, 95th, and 0.5, dB': 0.78,
      'aiming: usual, phone: seconds': 227,
      'aiming: usual, none: loss, 95th, and 0.5, dB': 1.25,
      'aiming: usual, none: seconds': 338,
    });
  });
});
