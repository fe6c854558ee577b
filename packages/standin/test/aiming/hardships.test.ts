import type { AngleSource } from '@kivram/core/aiming/reading';
import { describe, expect, it } from 'vitest';
import { confusedHand, slowHand } from '../../src/world/hands/handSetup';
import type { TrialSetup } from '../../src/world/trial';
import { lossesDb, median, setup } from './trials';

describe('simulated installers who follow the guide end on the peak', () => {
  it.each<[string, Partial<TrialSetup>, AngleSource]>([
    ['bolts pull the mount', { conditions: { bolts: { pulledWidths: [0.5, 0.8], seconds: 4 } } }, 'phone'],
    ['bolts pull the mount', { conditions: { bolts: { pulledWidths: [0.5, 0.8], seconds: 4 } } }, 'scale'],
    ['the hand is slow', { hand: slowHand }, 'none'],
    ['the hand takes left for right', { hand: confusedHand }, 'none'],
    [
      'a reading comes once a second',
      { conditions: { meter: { everyS: 1, quantumDb: 1, missingShare: 0.1 } } },
      'phone',
    ],
    ['the peak is five widths away', { startWidths: 5 }, 'phone'],
    ['the mount points too high as well', { levelled: false }, 'phone'],
    ['the mount has an end stop', { stopsWidths: [-7, 2], startWidths: 2 }, 'scale'],
    [
      'a compass stands beside iron',
      { beamDeg: 3, conditions: { phone: { kind: 'nearIron', noiseDeg: 1.5, pulledDeg: 3, withinDeg: 24 } } },
      'phone',
    ],
  ])('also where %s', (_, changes, source) => {
    expect(median(lossesDb({ ...setup('dish', source), ...changes }, 1, 3))).toBeLessThan(0.8);
  });

  it.each<[string, Partial<TrialSetup>]>([
    ['a slow hand, whose delay the notches show', { hand: slowHand }],
    [
      'bolts that pull by less than a notch or two',
      { conditions: { bolts: { pulledWidths: [0.1, 0.4], seconds: 4 } } },
    ],
    ['a reading a second', { conditions: { meter: { everyS: 1, quantumDb: 1, missingShare: 0.1 } } }],
  ])('nor does it cost much by the scale: %s', (_, changes) => {
    const losses = lossesDb({ ...setup('dish', 'scale'), ...changes }, 2000);
    expect(median(losses)).toBeLessThan(0.3);
    expect(losses.filter((lossDb) => lossDb > 1).length).toBeLessThan(2);
  });

  it.each<[string, AngleSource, Partial<TrialSetup>, medianDb: number, mostDb: number]>([
    ['slow fading by phone', 'phone', { conditions: { fading: { kind: 'rician', kDb: 6, correlationS: 2 } } }, 0.3, 1],
    [
      'slow fading without angles',
      'none',
      { conditions: { fading: { kind: 'rician', kDb: 6, correlationS: 2 } } },
      1,
      3,
    ],
    ['a start far off in both axes, without angles', 'none', { startWidths: 3, levelled: false }, 0.6, 2],
  ])('nor does it cost much more than the usual: %s', (_, source, changes, medianDb, mostDb) => {
    const losses = lossesDb({ ...setup('dish', source), ...changes }, 2000);
    expect(median(losses)).toBeLessThan(medianDb);
    expect(losses.filter((lossDb) => lossDb > mostDb).length).toBeLessThan(2);
  });
});
