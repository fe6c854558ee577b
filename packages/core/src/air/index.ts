export * from './air';
export * from './airtime';
