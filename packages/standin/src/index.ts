export * from './random';
export * from './world';
