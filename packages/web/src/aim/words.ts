import type { Advice } from '@kivram/core/aiming/advice';
import type { AimGuide, AimStep, CrewWord } from '@kivram/core/aiming/aimGuide';
import type { LevelWay } from '@kivram/core/aiming/levelWay';
import type { AngleSource, MountAxis, Reading, Turning } from '@kivram/core/aiming/reading';
import type { Stray } from '@kivram/core/aiming/strayWatch';
import type { End } from '@kivram/core/budget/plan';

const sides: Record<MountAxis, Record<'1' | '-1', string>> = {
  azimuth: { '1': 'right', '-1': 'left' },
  tilt: { '1': 'up', '-1': 'down' },
};

export function side(axis: MountAxis, direction: Turning): string {
  return direction === 0 ? '' : sides[axis][direction === 1 ? '1' : '-1'];
}

const axisWords: Record<MountAxis, string> = { azimuth: 'left and right', tilt: 'up and down' };

/** What to say when something else is turned than was asked for. */
const straySentences: Record<Stray, (axis: MountAxis) => string> = {
  otherAxis: (axis) => `Wrong way: turn ${axisWords[axis]} only`,
  otherEnd: () => 'The other end is being turned: leave it still',
  bothEnds: () => 'Both ends are being turned: one at a time',
};

/** What to do now, in the installer's words. */
export function sentence(advice: Advice, axis: MountAxis): string {
  if (advice.stray) return straySentences[advice.stray](axis);
  const way = side(axis, advice.direction);
  const far = advice.remainingDeg === null ? '' : ` ${advice.remainingDeg.toFixed(1)}°`;
  switch (advice.action) {
    case 'search':
      return `Turn ${way}, slowly`;
    case 'rising':
      return advice.levelDbm === null ? `Turn on ${way}, nothing heard yet` : `Turn on ${way}`;
    case 'past':
      return `Past the peak: keep on ${way}`;
    case 'turnBack':
      return `Turn back, ${way}`;
    case 'comeBack':
      return `Come back ${way}${far}`;
    case 'stop':
      return 'Stop';
    case 'hold':
      return 'Hold still, reading';
    case 'nextRow':
      return `Nothing strong along here: turn ${way}${far}`;
    case 'endStop':
      return 'The mount ends here: turn its bracket';
    case 'otherEnd':
      return advice.levelDbm === null ? 'Nothing heard here: turn the other end' : 'No lobe here: turn the other end';
    case 'lock':
      if (!advice.estimate) return 'No peak here: lock it for now';
      return advice.estimate.shortDb === null
        ? 'On the peak: lock it'
        : `${advice.estimate.shortDb.toFixed(1)} dB under the peak: lock it for now`;
    case 'readAgain':
      return 'Hands off, reading again';
    case 'moved':
      return `Tightening moved it: loosen, ${way}`;
    case 'done':
      return advice.estimate?.shortDb ? `Locked, ${advice.estimate.shortDb.toFixed(1)} dB under the peak` : 'Done';
  }
}

const sourceNames: Record<AngleSource, string> = { phone: 'the phone', scale: 'the scale', none: 'nothing' };

/** Why, for who asks. */
export function reason(advice: Advice, source: AngleSource): string {
  const { estimate } = advice;
  const known = estimate
    ? `The peak is ${estimate.peakDbm.toFixed(1)} dBm, known to ±${estimate.sdDeg.toFixed(2)}° after ${estimate.strokes} strokes.`
    : 'No peak is known yet.';
  if (advice.stray)
    return 'What is read while something else turns says nothing. Let it stand; this axis then begins anew.';
  switch (advice.action) {
    case 'otherEnd':
      return 'Both sides were searched and no lobe was found. Set this mount back to the middle and turn the other end. Where nothing is heard from there either after both its sides, it is no matter of aiming: see that both radios are on, on one channel, and paired on the bench.';
    case 'nextRow':
      return 'Along this line only scatter is heard: the antenna may point too high or too low. The next line is searched one and a half beam widths further.';
    case 'endStop':
      return 'What is looked for lies beyond where the mount turns. Loosen its bracket on the pole and turn it as a whole, or free the cable; mind that nothing falls.';
    case 'search':
    case 'rising':
      return `${known} Go on until the level has clearly passed its maximum: the first maximum may be a side lobe.`;
    case 'past':
      return `${known} Both flanks must be seen, or noise decides where the peak is.`;
    case 'turnBack':
      return `${known} ${advice.byTime && source !== 'none' ? `What tells the angle (${sourceNames[source]}) does not fit the level: iron nearby? From here on tap when you turn.` : source === 'none' ? 'The way back tells your speed.' : 'One more stroke makes it surer.'}`;
    case 'comeBack':
      return known;
    case 'moved':
      return 'The level or the angle is not what it was before the bolts were tightened. Loosen them; the next stop is so far beside the peak that tightening pulls it there.';
    default:
      return known;
  }
}

export function stepName({ end, axis, again }: Pick<AimStep, 'end' | 'axis' | 'again'>): string {
  return `${end === 'near' ? 'Near' : 'Far'} end, ${axis === 'azimuth' ? 'left and right' : 'up and down'}${again ? ', once more' : ''}`;
}

/** What one end calls to the other. */
export const callWords: Record<CrewWord, string> = { hold: 'hold', go: 'go', callMe: 'call me' };

/** The same as it is heard at the other end. */
export function heardWords(end: End, word: CrewWord): string {
  const who = end === 'near' ? 'Near end' : 'Far end';
  if (word === 'callMe') return `${who}: call me`;
  return word === 'hold' ? `${who}: hold` : `${who}: go`;
}

/** What is said aloud: the instruction without figures that change all the time, for these would never end. */
export function spoken(
  guide: Pick<AimGuide, 'step' | 'finished'>,
  advice: Advice,
  isTurn: boolean,
  silence: string | null,
): string {
  if (silence) return 'No reading';
  const { step } = guide;
  if (guide.finished || !step) return 'Both ends are locked';
  if (!isTurn) return `Hold still. The ${step.end} end turns`;
  return sentence({ ...advice, remainingDeg: null }, step.axis);
}

/** What must be there before there is anything to say: a level that somebody brings, or an angle; null where it is. */
export function missingWords(
  latest: Pick<Reading, 'rslDbm' | 'isRepeat' | 'phoneAzimuthDeg'> | undefined,
  way: LevelWay | undefined,
  angleBy: AngleSource,
): string | null {
  if (!latest) return null;
  if (way === 'typed' && latest.rslDbm === null && latest.isRepeat) return 'Type the level that the radio shows';
  if (angleBy === 'phone' && latest.phoneAzimuthDeg === null) return 'Nothing tells the angle yet: tap on the phone';
  return null;
}
