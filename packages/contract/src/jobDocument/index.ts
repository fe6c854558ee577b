export * from './alignment';
export * from './document';
export * from './spec';
export * from './test';
