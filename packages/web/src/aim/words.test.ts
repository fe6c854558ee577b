import type { Action, Advice } from '@kivram/core/aiming/advice';
import { describe, expect, it } from 'vitest';
import { reason, sentence, side, stepName } from './words';

const advice = (action: Action, changes: Partial<Advice> = {}): Advice => ({
  action,
  direction: 1,
  remainingDeg: null,
  levelDbm: -60,
  estimate: null,
  byTime: false,
  stray: null,
  ...changes,
});

describe('what the installer is told', () => {
  it.each<[Advice, 'azimuth' | 'tilt', string]>([
    [advice('search'), 'azimuth', 'Turn right, slowly'],
    [advice('rising', { direction: -1 }), 'azimuth', 'Turn on left'],
    [advice('rising', { levelDbm: null }), 'tilt', 'Turn on up, nothing heard yet'],
    [advice('past'), 'tilt', 'Past the peak: keep on up'],
    [advice('lock'), 'tilt', 'No peak here: lock it for now'],
    [advice('otherEnd', { levelDbm: null }), 'azimuth', 'Nothing heard here: turn the other end'],
    [advice('otherEnd'), 'azimuth', 'No lobe here: turn the other end'],
    [advice('search', { stray: 'otherAxis' }), 'tilt', 'Wrong way: turn up and down only'],
    [advice('search', { stray: 'bothEnds' }), 'tilt', 'Both ends are being turned: one at a time'],
    [advice('turnBack', { direction: -1 }), 'tilt', 'Turn back, down'],
    [advice('comeBack', { direction: -1, remainingDeg: 1.84 }), 'azimuth', 'Come back left 1.8°'],
    [advice('comeBack'), 'azimuth', 'Come back right'],
    [advice('stop', { direction: 0 }), 'azimuth', 'Stop'],
    [advice('hold', { direction: 0 }), 'azimuth', 'Hold still, reading'],
    [
      advice('lock', {
        direction: 0,
        estimate: { angleDeg: 3, peakDbm: -51.3, sdDeg: 0.1, sdDb: 0.3, widthRatio: 1, strokes: 4, shortDb: null },
      }),
      'azimuth',
      'On the peak: lock it',
    ],
    [advice('nextRow', { remainingDeg: 9 }), 'tilt', 'Nothing strong along here: turn up 9.0°'],
    [advice('endStop', { direction: 0 }), 'azimuth', 'The mount ends here: turn its bracket'],
    [advice('readAgain', { direction: 0 }), 'azimuth', 'Hands off, reading again'],
    [advice('moved'), 'azimuth', 'Tightening moved it: loosen, right'],
  ])('%j on %s', (said, axis, words) => {
    expect(sentence(said, axis)).toBe(words);
  });

  it('has a reason behind every sentence, with the peak once it is known', () => {
    const estimate = {
      angleDeg: 3,
      peakDbm: -51.26,
      sdDeg: 0.14,
      sdDb: 0.3,
      widthRatio: 1,
      strokes: 4,
      shortDb: null,
    };
    for (const action of ['search', 'rising', 'past', 'turnBack', 'comeBack', 'moved', 'hold', 'lock'] as const) {
      expect(reason(advice(action), 'phone').length, action).toBeGreaterThan(15);
    }
    expect(reason(advice('comeBack', { estimate }), 'phone')).toBe(
      'The peak is -51.3 dBm, known to ±0.14° after 4 strokes.',
    );
    expect(reason(advice('turnBack'), 'none')).toContain('speed');
    expect(reason(advice('turnBack', { byTime: true }), 'phone')).toContain('iron');
  });

  it('names sides and steps', () => {
    expect([side('azimuth', 1), side('azimuth', -1), side('tilt', 1), side('tilt', -1), side('tilt', 0)]).toEqual([
      'right',
      'left',
      'up',
      'down',
      '',
    ]);
    expect(stepName({ end: 'far', axis: 'tilt', again: true })).toBe('Far end, up and down, once more');
  });
});
