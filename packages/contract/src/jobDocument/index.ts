export * from './alignment';
export * from './document';
export * from './test';
