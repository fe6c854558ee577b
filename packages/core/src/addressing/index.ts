export * from './subnet';
export * from './network';
export * from './proposal';
export * from './typed';
