export * from './expectation';
export * from './ethernet';
export * from './run';
export * from './unit';
