export * from './mainLobe';
export * from './offBoresight';
