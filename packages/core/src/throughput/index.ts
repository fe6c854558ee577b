export * from './expectation';
export * from './ethernet';
export * from './unit';
