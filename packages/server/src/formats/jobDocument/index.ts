export * from './export';
export * from './import';
