import type { Action, AxisAdvice, PeakEstimate } from './advice';
import { isSuspicious, reactionS, recentLevelDbm, searchWidths, type AxisGuide, type AxisPlan } from './guide';
import { fitLobe, type LobeFit, type LobePoint } from './lobeFit';
import type { AimSample, Turning } from './reading';
import { Rest } from './rest';
import {
  giveUpReaches,
  hasMainLobeShape,
  lobeIsWhole,
  momentS,
  pastFitWidths,
  pastHighestWidths,
  sameCentreWidths,
  shownS,
  widthSpread,
} from './steering';
import { mirrorCentre } from './symmetry';

/** One turn in one direction, at about one speed. */
interface Stroke {
  direction: Turning;
  startS: number;
  /** x is seconds since the stroke began */
  points: LobePoint[];
  fit?: LobeFit;
}

/** A level so far under the best has left the lobe, whatever fading does; without angles a little more is asked for. */
const flankDropDb = 6;
/** A lobe so much weaker than the best one is another lobe. */
const sameLobeDb = 5;
/** Strokes by hand are slower than asked by this at worst, and slower than the one before by this. */
const slackOut = 1.2;
const slackBack = 1.6;
/** Three whole strokes give a speed and a peak level; after nine, and after five approaches, what there is must do. */
const neededStrokes = 3;
const mostStrokes = 9;
const mostApproaches = 5;
/** The best level so far is a mean over this; it was reached half of that ago. */
const bestS = 0.6;
/** Before so many readings, and in the first second, there is no rise to speak of. */
const firstSamples = 5;
const firstS = 1;
/** A search leaves a lobe this far past its highest reading. */
const leaveWidths = 0.75;
/** Fitting costs: every third reading is often enough. */
const samplesPerLook = 3;
/** A stroke has crossed its lobe this far past the fitted peak; after so many widths without one it has lost it. */
const crossedWidths = 0.8;
const lostWidths = 4;
/** A return takes as long as the way out, give or take a fifth; one this short is none. */
const returnSpread = 0.2;
const leastReturnS = 0.5;
/** A stop before this share of the expected return would trust a fading peak. */
const earliestShare = 0.3;
/** How well the peak level is known, one standard deviation: from one highest reading, and from one whole stroke. */
const highestSdDb = 1.5;
const strokeSdDb = 0.6;
/** Without angles only the level tells whether the stop was right, so it is read for longer, and further approaches are made. */
const checkSeconds = 5;
const offPeakDb = 1;

/**
 * Guides a mount whose angle nobody knows, by time and level alone. The beam width is known from the spec sheet, so the time a
 * stroke takes through the lobe gives that stroke's speed, and the level on the rising flank of the last approach tells how many
 * seconds remain to the peak.
 */
export class TimeGuide implements AxisGuide {
  private readonly samples: AimSample[] = [];
  private readonly strokes: Stroke[] = [];
  private stroke: Stroke | undefined;
  private phase: 'search' | 'measure' | 'comeBack' | 'hold' | 'lost' = 'search';
  private asked: Turning = 1;
  private searched = { right: false, left: false };
  private approaches = 0;
  /** seconds of turning back to a rough direction, where the axis met side lobes or scatter only */
  private coarseS: number | null = null;
  private rest: Rest | undefined;
  private action: Action = 'search';
  private remainingDeg: number | null = null;
  /** signed seconds of turning since the beginning: a rough position */
  private travelS = 0;
  private bestDbm = -Infinity;
  private bestTravelS = 0;

  constructor(private readonly plan: AxisPlan) {}

  get advice(): AxisAdvice {
    return {
      action: this.action,
      direction: ['hold', 'stop', 'lock', 'readAgain', 'otherEnd', 'done'].includes(this.action) ? 0 : this.asked,
      remainingDeg: this.remainingDeg,
      levelDbm: recentLevelDbm(this.samples, shownS),
      estimate: this.estimate(),
    };
  }

  notch(): void {
    // Without a scale there is nothing to tap.
  }

  locked(tS: number): void {
    this.rest ??= new Rest(tS);
    this.rest.lock(tS, this.samples);
  }

  points(): LobePoint[] {
    const last = this.strokes.at(-1) ?? this.stroke;
    const speed = this.plan.speedDegPerS;
    return (last?.points ?? []).map((p) => ({ ...p, x: (p.x - (last?.fit?.x ?? 0)) * speed * (last?.direction ?? 1) }));
  }

  push(sample: AimSample): void {
    const before = this.samples.at(-1);
    this.samples.push(sample);
    this.follow(sample, before);

    const locked = this.rest?.afterLock(sample.tS, this.samples);
    if (locked) {
      this.action = locked;
      if (locked === 'moved') this.restart();
      return;
    }
    if (this.phase === 'hold') this.hold(sample.tS);
    else if (this.phase === 'lost') this.listen();
    else if (!this.stroke || this.stroke.direction !== this.asked)
      return; // the hand has not turned round yet
    else if (this.phase === 'search') this.search(sample.tS);
    else if (this.phase === 'measure') this.measure(sample.tS);
    else this.comeBack(sample.tS);
  }

  /** Cuts the samples into strokes by the direction the installer says he turns. */
  private follow(sample: AimSample, before: AimSample | undefined): void {
    if (sample.turning !== this.stroke?.direction) {
      this.stroke = sample.turning ? { direction: sample.turning, startS: sample.tS, points: [] } : undefined;
    }
    if (before) this.travelS += sample.turning * (sample.tS - before.tS);
    if (this.stroke && sample.rslDbm !== null) {
      this.stroke.points.push({ x: sample.tS - this.stroke.startS, levelDbm: sample.rslDbm, pushedFrom: 0 });
    }
    const level = recentLevelDbm(this.samples, bestS);
    if (level !== null && level > this.bestDbm && this.samples.length > firstSamples) {
      this.bestDbm = level;
      this.bestTravelS = this.travelS - (bestS / 2) * sample.turning;
    }
  }

  private search(tS: number): void {
    const level = recentLevelDbm(this.samples, momentS);
    const width = this.askedWidthS();
    const pastS = (this.travelS - this.bestTravelS) * this.asked;
    const travelledS = this.travelS * this.asked;
    const fallen = level === null || level < this.bestDbm - flankDropDb;
    const suspicious = !this.plan.nearPeak && isSuspicious(this.bestDbm, this.plan.expectedDbm);
    this.action = pastS > pastHighestWidths * width ? 'past' : tS < firstS ? 'search' : 'rising';
    // The stroke back must pass the start however much slower it is than the stroke out.
    const slack = this.searched.right || this.searched.left ? slackBack : slackOut;
    const seenEnough = suspicious ? travelledS >= searchWidths * slack * width : fallen;
    const nothing = travelledS >= giveUpReaches * searchWidths * slack * width;
    if (!nothing && (pastS < leaveWidths * width || !seenEnough)) return;

    this.searched[this.asked > 0 ? 'right' : 'left'] = true;
    this.endStroke();
    if (!this.searched.right || !this.searched.left) return;
    if (this.bestDbm === -Infinity) return this.giveUp();
    if (suspicious) {
      this.coarseS = this.coarseSeconds();
      if (this.coarseS !== null) return this.startComingBack();
    }
    this.phase = 'measure';
  }

  /**
   * Seconds to come back when the search met nothing strong: to the middle of what the last, full stroke met, or to where the installer
   * began. Null where the lobe it met is a main lobe after all, only weak.
   */
  private coarseSeconds(): number | null {
    const last = this.strokes.at(-1);
    const endS = last?.points.at(-1)?.x ?? 0;
    const width = this.askedWidthS();
    const centre = mirrorCentre(last?.points ?? [], width);
    const fit = last && fitLobe(last.points, { width, widthRelativeSd: widthSpread.unknownLobe });
    const apart = Math.abs((fit?.x ?? NaN) - (centre ?? NaN));
    if (hasMainLobeShape(fit, width, 'byTime') && apart < sameCentreWidths.byTime * width) return null;
    return Math.max(leastReturnS, centre === undefined ? this.travelS * -this.asked : endS - centre);
  }

  private measure(tS: number): void {
    const stroke = this.stroke;
    if (!stroke || this.samples.length % samplesPerLook) return;
    const seconds = tS - stroke.startS;
    const fit = this.fitStroke(stroke);
    const level = recentLevelDbm(this.samples, momentS);
    const past = fit ? seconds - fit.x : 0;
    this.action = past > pastFitWidths * this.widthS() ? 'past' : 'rising';
    const strong = fit && fit.peakDbm > this.bestDbm - sameLobeDb;
    const crossed =
      strong && past >= crossedWidths * fit.width && (level === null || level < fit.peakDbm - flankDropDb);
    if (!crossed && seconds < lostWidths * this.widthS()) return;
    this.endStroke();
    if (this.goodStrokes().length >= neededStrokes || this.strokes.length >= mostStrokes) this.startComingBack();
  }

  private startComingBack(): void {
    this.phase = 'comeBack';
    this.approaches++;
    this.rest = undefined;
  }

  private comeBack(tS: number): void {
    const stroke = this.stroke;
    if (!stroke) return;
    const seconds = tS - stroke.startS;
    if (this.coarseS !== null) {
      this.remainingDeg = Math.max(0, (this.coarseS - seconds) * this.plan.speedDegPerS);
      this.action = 'comeBack';
      if (seconds >= this.coarseS) this.stop(tS);
      return;
    }
    const peak = this.knownPeak();
    const width = this.widthS();
    const expectedS = this.returnSeconds();
    const fit = fitLobe(
      stroke.points,
      {
        width,
        widthRelativeSd: widthSpread.withAngles,
        peakDbm: peak.dbm,
        peakSdDb: peak.sdDb,
        x: expectedS,
        xSd: returnSpread * expectedS + reactionS,
      },
      expectedS,
    );
    const peakS = fit?.x ?? expectedS;
    const remainingS = peakS - seconds;
    this.remainingDeg = Math.max(0, (remainingS * this.plan.beamWidthDeg) / width);
    this.action = 'comeBack';
    if (remainingS > reactionS || seconds < earliestShare * expectedS) return;
    this.stop(tS);
  }

  private stop(tS: number): void {
    this.action = 'stop';
    this.phase = 'hold';
    this.rest = new Rest(tS + reactionS);
  }

  private hold(tS: number): void {
    this.action = 'hold';
    if (!this.rest?.ripe(tS, checkSeconds)) return;
    const level = recentLevelDbm(this.samples, checkSeconds - reactionS);
    const shortDb = level === null ? Infinity : this.knownPeak().dbm - level;
    if (this.coarseS === null && shortDb > offPeakDb && this.approaches < mostApproaches) {
      // Too far off the peak to be fading alone: once more through the lobe and back.
      this.restart();
      return;
    }
    if (level === null) return this.giveUp();
    this.action = 'lock';
  }

  /** There is no lobe on either side: the other end, or what hides it, comes first. */
  private giveUp(): void {
    this.phase = 'lost';
    this.action = 'otherEnd';
    this.rest = undefined;
    this.remainingDeg = null;
  }

  /** Whoever has found something at the other end makes this one worth a search. */
  private listen(): void {
    if (recentLevelDbm(this.samples, bestS) === null) return;
    this.phase = 'search';
    this.action = 'search';
    this.searched = { right: false, left: false };
    this.travelS = 0;
  }

  private restart(): void {
    this.rest = undefined;
    this.phase = 'measure';
    this.stroke = undefined;
    this.action = 'turnBack';
    this.asked = -this.asked as Turning;
    this.bestTravelS = this.travelS;
  }

  private endStroke(): void {
    const stroke = this.stroke;
    if (stroke) {
      stroke.fit = this.fitStroke(stroke);
      this.strokes.push(stroke);
    }
    this.asked = -this.asked as Turning;
    this.action = 'turnBack';
  }

  private fitStroke(stroke: Stroke): LobeFit | undefined {
    return fitLobe(stroke.points, { width: this.widthS(), widthRelativeSd: widthSpread.strokeByTime });
  }

  /** Strokes that went through the whole lobe near the best level: those of a side lobe drop out. */
  private goodStrokes(): (Stroke & { fit: LobeFit })[] {
    const whole = this.strokes.filter((s): s is Stroke & { fit: LobeFit } => !!s.fit && lobeIsWhole(s.fit));
    const best = Math.max(...whole.map((s) => s.fit.peakDbm));
    return whole.filter((s) => s.fit.peakDbm > best - sameLobeDb);
  }

  /** Peak level from the whole strokes, weighted by what each knows. */
  private knownPeak(): { dbm: number; sdDb: number } {
    const good = this.goodStrokes();
    if (!good.length) return { dbm: this.bestDbm, sdDb: highestSdDb };
    const dbm = good.reduce((sum, s) => sum + s.fit.peakDbm, 0) / good.length;
    return { dbm, sdDb: strokeSdDb / Math.sqrt(good.length) };
  }

  /** Seconds between the 3 dB points at this installer's speed: as asked for, or as his strokes show. */
  private widthS(): number {
    const widths = this.goodStrokes().map((s) => s.fit.width);
    return widths.length ? widths.reduce((sum, w) => sum + w, 0) / widths.length : this.askedWidthS();
  }

  private askedWidthS(): number {
    return this.plan.beamWidthDeg / this.plan.speedDegPerS;
  }

  /** Seconds from the turning point back to the peak, if this stroke is as fast as the one before. */
  private returnSeconds(): number {
    const last = this.strokes.at(-1);
    const end = last?.points.at(-1)?.x;
    return last?.fit && end !== undefined ? Math.max(leastReturnS, end + reactionS - last.fit.x) : this.widthS();
  }

  private estimate(): PeakEstimate | null {
    const good = this.goodStrokes();
    if (!good.length || this.coarseS !== null) return null;
    const degPerS = this.plan.beamWidthDeg / this.widthS();
    return {
      angleDeg: null,
      peakDbm: this.knownPeak().dbm,
      sdDeg: (Math.min(...good.map((s) => s.fit.xSd)) * degPerS) / Math.sqrt(good.length),
      widthRatio: 1,
      strokes: this.strokes.length,
    };
  }
}
