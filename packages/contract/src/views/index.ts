export * from './alignment';
export * from './find';
export * from './gear';
export * from './job';
export * from './link';
export * from './state';
export * from './terrain';
export * from './test';
