export * from './mainLobe';
export * from './nsma';
export * from './offBoresight';
export * from './pattern';
