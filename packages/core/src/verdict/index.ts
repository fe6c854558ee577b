export * from './next';
export * from './steps';
export * from './throughputVerdict';
export * from './verdict';
