import { mostHeardDbm } from './overload';
import { ends, otherEnd, type End, type LinkPlan } from './plan';
import { powerStepDb } from './usualPower';
import { groundOf, predictOver, shaftGround, type LinkGround, type LinkPrediction } from './prediction';

/** What keeps a power from being higher. */
export type PowerBound = 'model' | 'law' | 'overload' | 'sharer';

/** The power to set at one end, and what bounds it. */
export interface EndPower {
  conductedDbm: number;
  leastDbm: number;
  /** no more than this, and why */
  mostDbm: number;
  bound: PowerBound;
  /** what each of them would allow by itself; Infinity where it allows any */
  bounds: Record<PowerBound, number>;
  /** of the links that share this radio, those that ask for its least and for no more */
  askedBy: string | null;
  boundBy: string | null;
}

/** Another link of a radio: a hub serves it with the same power, which must do for both. */
export interface PowerSharer {
  name: string;
  plan: LinkPlan;
  wantedDb: number;
  /** which end of the link in question the radio is, and which of this one */
  end: End;
  theirEnd: End;
}

/** The least powers that give a plan what is asked of it. */
export interface PowerChoice {
  near: EndPower;
  far: EndPower;
  /** what the levels may fade until the need is not met, with these powers; of a plan that needs nothing: until it drops */
  fadeDb: number;
  /** whether that is what was asked for; else the powers are the most that is allowed */
  enough: boolean;
}

/**
 * The least power at each end with which the need is met and the levels may still fade by the margin that is asked for: capped by what the model sends, by the law with the
 * antenna's gain taken off, and by what the other receiver bears, in a shaft at the car's closest point. A radio that other links share sends as they need it, too.
 * @throws RangeError as predictLink does
 */
export function choosePower(plan: LinkPlan, wantedDb: number, sharers: readonly PowerSharer[] = []): PowerChoice {
  const ground = groundOf(plan);
  const caps = capsOf(plan, ground);
  const alone = chooseWithin(caps, plan, wantedDb, ground);
  return sharers.length ? chooseWithin(sharedCaps(alone, sharers), plan, wantedDb, ground) : alone;
}

function chooseWithin(caps: Record<End, Cap>, plan: LinkPlan, wantedDb: number, ground: LinkGround): PowerChoice {
  const rooms = { near: roomOf(caps.near), far: roomOf(caps.far) };
  /** how far the levels may fade when each end is so many steps over its least power */
  const fadeAt = (near: number, far: number): number =>
    fadeOf(predictOver(withPower(plan, powerAt(caps.near, near), powerAt(caps.far, far)), ground));
  const most = Math.max(rooms.near, rooms.far);
  const both = least(most, (n) => fadeAt(Math.min(n, rooms.near), Math.min(n, rooms.far)) >= wantedDb);
  let [near, far] = [Math.min(both, rooms.near), Math.min(both, rooms.far)];
  const enough = fadeAt(near, far) >= wantedDb;
  if (enough) {
    // One end may hear better than the other: what is sent for nothing is taken back.
    near = least(near, (n) => fadeAt(n, far) >= wantedDb);
    far = least(far, (n) => fadeAt(near, n) >= wantedDb);
  }
  const end = (cap: Cap, steps: number): EndPower => ({ ...cap, conductedDbm: powerAt(cap, steps) });
  return { near: end(caps.near, near), far: end(caps.far, far), fadeDb: fadeAt(near, far), enough };
}

type Cap = Omit<EndPower, 'conductedDbm'>;

/** Caps with what other links ask of a radio that they share: no less than the one needs that needs more than this link, no more than the nearest receiver bears. */
function sharedCaps(alone: PowerChoice, sharers: readonly PowerSharer[]): Record<End, Cap> {
  const shared = { near: { ...alone.near }, far: { ...alone.far } };
  for (const { name, plan, wantedDb, end, theirEnd } of sharers) {
    const cap = shared[end];
    const { conductedDbm, bounds } = choosePower(plan, wantedDb)[theirEnd];
    if (conductedDbm > Math.max(cap.leastDbm, alone[end].conductedDbm))
      Object.assign(cap, { leastDbm: conductedDbm, askedBy: name });
    cap.bounds = { ...cap.bounds, sharer: Math.min(cap.bounds.sharer, bounds.overload) };
    if (bounds.overload < cap.mostDbm)
      Object.assign(cap, { mostDbm: bounds.overload, bound: 'sharer' as const, boundBy: name });
  }
  return shared;
}

/** What is allowed at each end, whatever is needed. */
export function capsOf(plan: LinkPlan, ground: LinkGround = groundOf(plan)): Record<End, Cap> {
  const closest = plan.shaft ? shaftGround(plan, plan.shaft.leastM) : ground;
  const tried = predictOver(plan, closest);
  const cap = (end: End): Cap => {
    const { model, conductedDbm } = plan[end];
    const { eirpDbm, eirpLimitDbm, lawKnown } = tried[end];
    const heard = tried[otherEnd(end)].rslDbm - conductedDbm;
    const bounds = {
      model: model.mostConductedDbm,
      law: (eirpLimitDbm ?? (lawKnown ? -Infinity : Infinity)) - (eirpDbm - conductedDbm),
      overload: mostHeardDbm(plan[otherEnd(end)].model) - heard,
      sharer: Infinity,
    };
    const bound = (Object.keys(bounds) as PowerBound[]).reduce((a, b) => (bounds[b] < bounds[a] ? b : a));
    return {
      leastDbm: model.leastConductedDbm,
      mostDbm: bounds[bound],
      bound,
      bounds,
      askedBy: null,
      boundBy: null,
    };
  };
  return { near: cap('near'), far: cap('far') };
}

/** Steps between the least power and the most that is allowed. */
function roomOf({ leastDbm, mostDbm }: Cap): number {
  return Math.max(0, Math.floor((mostDbm - leastDbm) / powerStepDb + 1e-9));
}

function powerAt({ leastDbm }: Cap, steps: number): number {
  return leastDbm + steps * powerStepDb;
}

function withPower(plan: LinkPlan, nearDbm: number, farDbm: number): LinkPlan {
  return { ...plan, near: { ...plan.near, conductedDbm: nearDbm }, far: { ...plan.far, conductedDbm: farDbm } };
}

function fadeOf(prediction: LinkPrediction): number {
  return prediction.need?.fadeDb ?? Math.min(...ends.map((end) => prediction[end].marginDb));
}

/** The least number up to `most` for which something holds that holds for all above it; `most` where it holds for none. */
function least(most: number, holds: (n: number) => boolean): number {
  let [no, yes] = [-1, most];
  while (yes - no > 1) {
    const middle = (no + yes) >> 1;
    if (holds(middle)) yes = middle;
    else no = middle;
  }
  return yes;
}
