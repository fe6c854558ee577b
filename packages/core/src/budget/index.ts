export * from './ledger';
export * from './plan';
export * from './prediction';
export * from './shaft';
export * from './hop';
