import { ends, type End, type MountAxis, type Reading } from '@kivram/core';
import { Random } from '../random';
import { Fading } from './fading';
import { MountAxisPlay } from './mount';
import { patternLossDb, type Aperture } from './pattern';

/** One end of the stand-in world. Angles are relative to the true direction of the other end. */
export interface WorldEnd {
  aperture: Aperture;
  beam: { azimuthDeg: number; elevationDeg: number };
  /** how far off the mount stands at the beginning */
  startAzimuthDeg: number;
  startTiltDeg: number;
  playDeg: number;
  /** level received here with both antennas on target and nothing in the way */
  alignedDbm: number;
  /** below this the receiver hears nothing */
  floorDbm: number;
  chains: number;
  /** extra loss of the second chain: a bad pigtail */
  secondChainLossDb?: number;
}

export interface WorldConditions {
  fadingSdDb: number;
  fadingCorrelationS: number;
  quantumDb: number;
  phoneNoiseDeg: number;
  /** trees or a ridge in the path */
  obstructionDb: number;
  /** one end turned by 90 degrees */
  crossedPolarisation: boolean;
}

export const usualConditions: WorldConditions = {
  fadingSdDb: 1.5,
  fadingCorrelationS: 0.5,
  quantumDb: 1,
  phoneNoiseDeg: 1.5,
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
  azimuth: MountAxisPlay;
  tilt: MountAxisPlay;
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
    this.fading = new Fading(conditions.fadingSdDb, conditions.fadingCorrelationS, this.random);
    const make = (end: WorldEnd): EndState => ({
      ...end,
      azimuth: new MountAxisPlay(end.startAzimuthDeg, end.playDeg),
      tilt: new MountAxisPlay(end.startTiltDeg, end.playDeg),
      scaleZero: { azimuth: this.random.between(-40, 40), tilt: this.random.between(-10, 10) },
    });
    this.state = { near: make(near), far: make(far) };
  }

  step(dtS: number): void {
    this.tS += dtS;
    this.fading.step(dtS);
  }

  turn(end: End, axis: MountAxis, byDeg: number): void {
    this.state[end][axis].turn(byDeg);
  }

  tighten(end: End): void {
    this.state[end].azimuth.tighten(this.random);
    this.state[end].tilt.tighten(this.random);
  }

  /** What the scale on the bracket shows: the bolt, not the antenna. */
  scaleDeg(end: End, axis: MountAxis): number {
    return this.state[end][axis].boltDeg + this.state[end].scaleZero[axis];
  }

  /** What the radio at one end reports now, with a phone held to its antenna. */
  read(end: End): Reading {
    const here = this.state[end];
    const { quantumDb, phoneNoiseDeg } = this.conditions;
    const meanDbm = this.meanDbm(end) + this.fading.db;
    const chain = (index: number): number =>
      meanDbm -
      10 * Math.log10(here.chains) -
      (index === 1 ? (here.secondChainLossDb ?? 0) : 0) +
      0.3 * this.random.normal();
    const chains = Array.from({ length: here.chains }, (_, i) => chain(i));
    const totalDbm = 10 * Math.log10(chains.reduce((sum, dbm) => sum + 10 ** (dbm / 10), 0));
    const heard = totalDbm >= here.floorDbm;
    const quantise = (dbm: number): number => Math.round(dbm / quantumDb) * quantumDb;
    return {
      end,
      tS: this.tS,
      rslDbm: heard ? quantise(totalDbm) : null,
      chainsDbm: heard ? chains.map(quantise) : [],
      phoneAzimuthDeg: here.azimuth.antennaDeg + here.scaleZero.azimuth + phoneNoiseDeg * this.random.normal(),
      phoneTiltDeg: here.tilt.antennaDeg + here.scaleZero.tilt + phoneNoiseDeg * this.random.normal(),
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
      patternLossDb(s.aperture, s.azimuth.antennaDeg, s.tilt.antennaDeg, s.beam) -
      patternLossDb(s.aperture, 0, 0, s.beam)
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
