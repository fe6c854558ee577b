export * from './model';
export * from './poe';
