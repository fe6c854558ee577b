import type { Advice, AimStep, AngleSource, MountAxis, Stray, Turning } from '@kivram/core';

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
    case 'otherEnd':
      return advice.levelDbm === null ? 'Nothing heard here: turn the other end' : 'No lobe here: turn the other end';
    case 'lock':
      return advice.estimate ? 'On the peak: lock it' : 'No peak here: lock it for now';
    case 'readAgain':
      return 'Hands off, reading again';
    case 'moved':
      return `Tightening moved it: loosen, ${way}`;
    case 'done':
      return 'Done';
  }
}

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
      return 'Both sides were searched and no lobe was found. Set this mount back to the middle, see that both radios are on and on the same channel, and turn the other end.';
    case 'search':
    case 'rising':
      return `${known} Go on until the level has clearly passed its maximum: the first maximum may be a side lobe.`;
    case 'past':
      return `${known} Both flanks must be seen, or noise decides where the peak is.`;
    case 'turnBack':
      return `${known} ${source === 'none' ? 'The way back tells your speed.' : 'One more stroke makes it surer.'}`;
    case 'comeBack':
      return known;
    case 'moved':
      return 'The level dropped by more than fading explains when the bolts were tightened.';
    default:
      return known;
  }
}

export function stepName({ end, axis, again }: Pick<AimStep, 'end' | 'axis' | 'again'>): string {
  return `${end === 'near' ? 'Near' : 'Far'} end, ${axis === 'azimuth' ? 'left and right' : 'up and down'}${again ? ', once more' : ''}`;
}
