import type { Model, Protocol } from '../gear';
import type { Position } from '../geodesy';
import type { Obstacle } from '../path';
import type { TerrainProfile } from '../terrain';
import type { Shaft } from './shaft';

export type End = 'near' | 'far';
export const ends: readonly End[] = ['near', 'far'];
export const otherEnd = (end: End): End => (end === 'near' ? 'far' : 'near');

/** One end of a link, as planned. */
export interface EndPlan {
  position: Position;
  groundHeightM: number;
  mountHeightM: number;
  model: Model;
  conductedDbm: number;
  cableLossDb: number;
}

export interface LinkPlan {
  near: EndPlan;
  far: EndPlan;
  centreMHz: number;
  widthMHz: number;
  protocol: Protocol;
  country: string;
  /** what lies between the ends; null where no terrain is known */
  terrain?: PathTerrain | null;
  /** a vertical path; the positions do not matter then */
  shaft?: Shaft | null;
}

/** The ground between two ends and what stands on it. */
export interface PathTerrain {
  profile: TerrainProfile;
  obstacles: readonly Obstacle[];
  /** for which trees are grown */
  year: number;
  k?: number;
}
