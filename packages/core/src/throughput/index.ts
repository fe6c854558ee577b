export * from './expectation';
export * from './ethernet';
