export * from './run';
