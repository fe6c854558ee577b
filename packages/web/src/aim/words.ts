import type { Advice, AimStep, AngleSource, MountAxis, Turning } from '@kivram/core';

const sides: Record<MountAxis, Record<'1' | '-1', string>> = {
  azimuth: { '1': 'right', '-1': 'left' },
  tilt: { '1': 'up', '-1': 'down' },
};

export function side(axis: MountAxis, direction: Turning): string {
  return direction === 0 ? '' : sides[axis][direction === 1 ? '1' : '-1'];
}

/** What to do now, in the installer's words. */
export function sentence(advice: Advice, axis: MountAxis): string {
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
    case 'lock':
      return 'On the peak: lock it';
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
  switch (advice.action) {
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
