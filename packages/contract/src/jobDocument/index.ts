export * from './alignment';
export * from './document';
export * from './photo';
export * from './test';
