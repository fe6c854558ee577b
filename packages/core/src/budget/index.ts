export * from './ledger';
export * from './prediction';
export * from './shaft';
