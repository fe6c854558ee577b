export * from './basis';
export * from './changes';
export * from './evidence';
