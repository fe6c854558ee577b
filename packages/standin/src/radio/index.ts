export * from './air';
export * from './bench';
export * from './standinRadio';
