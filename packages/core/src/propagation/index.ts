export * from './freeSpace';
export * from './fresnel';
export * from './noise';
export * from './oxygen';
export * from './powerDensity';
