export * from './cable';
export * from './model';
export * from './plausible';
export * from './poe';
