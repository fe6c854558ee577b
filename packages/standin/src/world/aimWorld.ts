import type { MountAxis, Reading } from '@kivram/core/aiming/reading';
import { ends, type End } from '@kivram/core/budget/plan';
import { Random } from '../random';
import { patternLossDb, type Antenna } from './antenna';
import { makeFading, type FadingSetup } from './fading';
import type { Fading } from './fading/fading';
import { Meter, type MeterSetup } from './meter/meter';
import { Bolts, type BoltsSetup } from './mount/bolts';
import { MountAxis as Mount } from './mount/mountAxis';
import { makePhone, type PhoneSetup } from './phone';
import type { Phone } from './phone/phone';

/** One end of the stand-in world. Angles are relative to the true direction of the other end. */
export interface WorldEnd {
  antenna: Antenna;
  beam: { azimuthDeg: number; elevationDeg: number };
  /** how far off the mount stands at the beginning */
  startAzimuthDeg: number;
  startTiltDeg: number;
  playDeg: number;
  /** where the mount turns no further, to both sides of where it stands at the beginning; left out, it turns all round */
  stopsDeg?: Record<MountAxis, readonly [least: number, most: number]>;
  /** level received here with both antennas on target and nothing in the way */
  alignedDbm: number;
  /** below this the receiver hears nothing */
  floorDbm: number;
  chains: number;
  /** extra loss of the second chain: a bad pigtail */
  secondChainLossDb?: number;
}

export interface WorldConditions {
  fading: FadingSetup;
  meter: MeterSetup;
  phone: PhoneSetup;
  bolts: BoltsSetup;
  /** trees or a ridge in the path */
  obstructionDb: number;
  /** one end turned by 90 degrees */
  crossedPolarisation: boolean;
}

export const usualConditions: WorldConditions = {
  fading: { kind: 'gaussian', sdDb: 1.5, correlationS: 0.5 },
  meter: { everyS: 0, quantumDb: 1, missingShare: 0 },
  phone: { kind: 'steady', noiseDeg: 1.5 },
  bolts: { pulledWidths: [0, 0], seconds: 0 },
  obstructionDb: 0,
  crossedPolarisation: false,
};

export interface AxisState {
  boltDeg: number;
  antennaDeg: number;
}

/** Where every mount of a world stands. */
export type MountState = Record<End, Record<MountAxis, AxisState>>;

/** Isolation between crossed polarisations of such antennas. */
const crossPolarDb = 22;

/** Scale zero of each mount is wherever the bracket happened to be clamped. */
interface EndState extends WorldEnd {
  azimuth: Mount;
  tilt: Mount;
  meter: Meter;
  phone: Record<MountAxis, Phone>;
  scaleZero: { azimuth: number; tilt: number };
}

/** Two antennas on two mounts and the air between them, at a time step of the caller's choosing. Deterministic by its seed. */
export class AimWorld {
  private readonly random: Random;
  private readonly fading: Fading;
  private readonly state: Record<End, EndState>;
  private tS = 0;

  constructor(
    near: WorldEnd,
    far: WorldEnd,
    private readonly conditions: WorldConditions,
    seed: number,
  ) {
    this.random = new Random(seed);
    this.fading = makeFading(conditions.fading, this.random);
    const mount = (end: WorldEnd, axis: MountAxis): Mount => {
      const startDeg = axis === 'azimuth' ? end.startAzimuthDeg : end.startTiltDeg;
      const widthDeg = axis === 'azimuth' ? end.beam.azimuthDeg : end.beam.elevationDeg;
      const [least, most] = end.stopsDeg?.[axis] ?? [-Infinity, Infinity];
      const bolts = new Bolts(conditions.bolts, widthDeg, this.random);
      return new Mount(startDeg, end.playDeg, bolts, [startDeg + least, startDeg + most]);
    };
    const make = (end: WorldEnd): EndState => ({
      ...end,
      azimuth: mount(end, 'azimuth'),
      tilt: mount(end, 'tilt'),
      meter: new Meter(conditions.meter, this.random),
      phone: { azimuth: makePhone(conditions.phone, this.random), tilt: makePhone(conditions.phone, this.random) },
      scaleZero: { azimuth: this.random.between(-40, 40), tilt: this.random.between(-10, 10) },
    });
    this.state = { near: make(near), far: make(far) };
  }

  step(dtS: number): void {
    this.tS += dtS;
    this.fading.step(dtS);
    for (const end of ends) {
      this.state[end].azimuth.step(dtS);
      this.state[end].tilt.step(dtS);
    }
  }

  /** @returns how far the mount went: less than asked for at an end stop */
  turn(end: End, axis: MountAxis, byDeg: number): number {
    return this.state[end][axis].turn(byDeg);
  }

  /** Begins to tighten the bolts of one axis. */
  tighten(end: End, axis: MountAxis): void {
    this.state[end][axis].tighten(this.random);
  }

  isTight(end: End, axis: MountAxis): boolean {
    return this.state[end][axis].isTight;
  }

  /** Whether the radio at one end has a new level to tell, once every time that it is asked for. */
  hasNews(end: End): boolean {
    return this.state[end].meter.hasNews(this.tS);
  }

  /** What the scale on the bracket shows: the bolt, not the antenna. */
  scaleDeg(end: End, axis: MountAxis): number {
    return this.state[end][axis].boltDeg + this.state[end].scaleZero[axis];
  }

  /** What the radio at one end reports now, with a phone held to its antenna. */
  read(end: End): Reading {
    const here = this.state[end];
    const meanDbm = this.meanDbm(end) + this.fading.db;
    const chain = (index: number): number =>
      meanDbm -
      10 * Math.log10(here.chains) -
      (index === 1 ? (here.secondChainLossDb ?? 0) : 0) +
      0.3 * this.random.normal();
    const chains = Array.from({ length: here.chains }, (_, i) => chain(i));
    const totalDbm = 10 * Math.log10(chains.reduce((sum, dbm) => sum + 10 ** (dbm / 10), 0));
    const heard = totalDbm >= here.floorDbm;
    return {
      end,
      tS: this.tS,
      rslDbm: heard ? here.meter.shown(totalDbm) : null,
      chainsDbm: heard ? chains.map((dbm) => here.meter.shown(dbm)) : [],
      phoneAzimuthDeg: here.phone.azimuth.read(here.azimuth.antennaDeg + here.scaleZero.azimuth, this.tS),
      phoneTiltDeg: here.phone.tilt.read(here.tilt.antennaDeg + here.scaleZero.tilt, this.tS),
    };
  }

  /** Level at one end without fading: what a long average would read. */
  meanDbm(end: End): number {
    return this.state[end].alignedDbm - this.lossDb();
  }

  /** Where bolts and antennas stand, to be restored later. */
  save(): MountState {
    const of = (end: End): Record<MountAxis, AxisState> => ({
      azimuth: { boltDeg: this.state[end].azimuth.boltDeg, antennaDeg: this.state[end].azimuth.antennaDeg },
      tilt: { boltDeg: this.state[end].tilt.boltDeg, antennaDeg: this.state[end].tilt.antennaDeg },
    });
    return { near: of('near'), far: of('far') };
  }

  restore(mounts: MountState): void {
    for (const end of ends)
      for (const axis of ['azimuth', 'tilt'] as const) Object.assign(this.state[end][axis], mounts[end][axis]);
  }

  /** Loss of one end's pointing against its true peak. For judging guides from outside; no reading carries it. */
  pointingLossDb(end: End): number {
    const s = this.state[end];
    return (
      patternLossDb(s.antenna, s.azimuth.antennaDeg, s.tilt.antennaDeg, s.beam) - patternLossDb(s.antenna, 0, 0, s.beam)
    );
  }

  /** True pointing error. For judging guides from outside. */
  offsetDeg(end: End, axis: MountAxis): number {
    return this.state[end][axis].antennaDeg;
  }

  private lossDb(): number {
    const pointing = ends.reduce((sum, end) => sum + this.pointingLossDb(end), 0);
    return pointing + this.conditions.obstructionDb + (this.conditions.crossedPolarisation ? crossPolarDb : 0);
  }
}
