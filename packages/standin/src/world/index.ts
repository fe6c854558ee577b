export * from './aimWorld';
export * from './fading';
export * from './hands';
export * from './mount';
export * from './pattern';
export * from './trial';
export * from './wave';
