export * from './modulation';
export * from './rate';
