export * from './job';
export * from './newLink';
export * from './obstacle';
export * from './place';
export * from './plan';
export * from './session';
export * from './test';
export * from './work';
