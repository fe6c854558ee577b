export * from './steps';
export * from './throughputVerdict';
export * from './verdict';
