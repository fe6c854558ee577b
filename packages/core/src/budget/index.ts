export * from './ledger';
export * from './prediction';
