export * from './subnet';
export * from './proposal';
