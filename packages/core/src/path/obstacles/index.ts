import { building } from './building';
import type { ObstacleKind } from '../obstacle';
import type { ObstacleKindRules } from './kind';
import { trees } from './trees';
import { vehicle } from './vehicle';
import { water } from './water';

/** Every kind of obstacle. A new kind is a new file and a line here. */
export const obstacleRules: Record<ObstacleKind, ObstacleKindRules> = { trees, building, vehicle, water };
