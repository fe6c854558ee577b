export * from './run';
export * from './layer';
