export * from './availability';
export * from './hop';
export * from './ledger';
export * from './needFade';
export * from './plan';
export * from './prediction';
export * from './shaft';
