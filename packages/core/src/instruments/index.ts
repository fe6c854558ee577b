export * from './school';
export * from './setup';
