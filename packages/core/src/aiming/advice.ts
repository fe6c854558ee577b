import type { Turning } from './reading';
import type { Stray } from './strayWatch';

/** What the guide tells the installer to do. */
export type Action =
  | 'search' // turn, nothing is known yet
  | 'rising' // turn on, still rising
  | 'past' // past the peak: keep going until both flanks are seen
  | 'turnBack' // far enough: turn the other way
  | 'comeBack' // come back to the peak, by so much
  | 'stop' // stop now
  | 'nextRow' // nothing but scatter along here: turn the other axis by so much, and search the next row
  | 'otherEnd' // searched on both sides and no lobe found: it is not this axis of this end that is wrong
  | 'endStop' // the mount turns no further, and the peak lies beyond
  | 'hold' // hold still, reading
  | 'lock' // tighten the bolts
  | 'readAgain' // locked: reading again
  | 'moved' // tightening moved it: loosen and come back
  | 'done';

export interface PeakEstimate {
  /** in degrees of the guide's angle scale; null where only time was known */
  angleDeg: number | null;
  peakDbm: number;
  /** one standard deviation of where the peak is */
  sdDeg: number;
  /** one standard deviation of its level */
  sdDb: number;
  /** width between the 3 dB points as measured, against the spec sheet's */
  widthRatio: number;
  /** strokes through the lobe that the estimate rests on */
  strokes: number;
  /** so much under the peak the mount was left, where that is known */
  shortDb: number | null;
}

export interface Advice {
  action: Action;
  /** which way to turn next */
  direction: Turning;
  /** how far still to go, where known */
  remainingDeg: number | null;
  /** level of the moment, averaged */
  levelDbm: number | null;
  estimate: PeakEstimate | null;
  /** only time tells the angle, so that whoever turns must tap when they do: nothing else is there, or it led astray */
  byTime: boolean;
  /** what is turned although nobody asked for it; null where nothing is, or no phone tells */
  stray: Stray | null;
}

/** What a guide along one axis knows. */
export type AxisAdvice = Omit<Advice, 'stray' | 'byTime'>;
